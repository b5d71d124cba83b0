import { endpoints } from '@ulkret/contract';
import { readFor, type Technique } from '@ulkret/core/breakdown';
import type { Student } from '@ulkret/core/people';
import { pairByMass, type Rung, rungNames, rungs } from '@ulkret/core/rep';
import { useState } from 'react';
import { ToggleButton } from 'react-aria-components';
import { Link, useNavigate } from 'react-router';
import styled from 'styled-components';
import { uuidv7 } from 'uuidv7';
import { useOutbox } from '../offline/use-outbox';
import { useApi } from '../shell/api';
import { Empty, Loaded } from '../shell/states';
import { Button, Caution, Choice, Head, Page, Panel, Quiet, Row } from '../shell/ui';
import { many } from '../shell/words';

const Person = styled(ToggleButton)`
  min-height: 48px;
  padding: 0 1rem;
  border: 2px solid var(--line);
  border-radius: 8px;
  background: var(--surface);
  cursor: pointer;
  touch-action: manipulation;
  &[data-selected] {
    border-color: var(--action);
    background: var(--wash);
    font-weight: 650;
  }
`;

const Pairs = styled.ol`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(15rem, 1fr));
  gap: 0.5rem;
  margin-top: 0.7rem;
  li {
    display: flex;
    align-items: center;
    gap: 0.6rem;
    background: var(--raised);
    border-radius: 8px;
    padding-left: 0.8rem;
    min-height: 48px;
  }
  button {
    margin-left: auto;
    border: 0;
    min-height: 48px;
    padding: 0 0.8rem;
    background: transparent;
    color: var(--action);
    font-weight: 600;
    cursor: pointer;
  }
`;

const perSide = ['5', '7', '10', '15'] as const;
const minutes = ['2', '3', '5', '8'] as const;

export default function SetUpPage() {
  const techniques = useApi(endpoints.techniques);
  const students = useApi(endpoints.students);
  const sessions = useApi(endpoints.sessions);
  return (
    <Page>
      <Head>
        <h1>Start a session</h1>
      </Head>
      <Loaded of={techniques} what="the library">
        {({ techniques: rows }) => (
          <Loaded of={students} what="the roster">
            {({ students: roster }) => {
              const here = roster.filter(({ archived }) => !archived);
              if (rows.every(({ edition }) => edition === 0))
                return <Empty title="There is no technique to drill yet." />;
              if (here.length === 0)
                return (
                  <Empty title="Nobody is on the roster yet.">
                    <p>
                      Add your students under <Link to="/people">People</Link> first.
                    </p>
                  </Empty>
                );
              const known = rows.filter(({ edition }) => edition > 0).map(({ technique }) => technique);
              const last = sessions.data?.sessions[0]?.session.technique;
              const first =
                known.find(({ id }) => id === last) ??
                known.find(({ kind }) => kind === 'submission') ??
                known[0]!;
              return <SetUp key={first.id} first={first.id} techniques={known} roster={here} />;
            }}
          </Loaded>
        )}
      </Loaded>
    </Page>
  );
}

/** Spans that are drilled: the whole, the entry up to the last grip, or from the last grip on. */
type Span = 'whole' | 'entry' | 'finish';

function SetUp({
  first,
  techniques,
  roster,
}: {
  /** What is drilled unless the coach chooses: the technique of the last session, or the first submission. */
  first: string;
  techniques: Technique[];
  roster: Student[];
}) {
  const navigate = useNavigate();
  const outbox = useOutbox();
  const [technique, setTechnique] = useState(first);
  const found = useApi(endpoints.technique, { params: { id: technique } });
  const [pairs, setPairs] = useState<string[][]>([]);
  const [picked, setPicked] = useState<string[]>([]);
  const [rung, setRung] = useState<Rung>(2);
  const [reps, setReps] = useState<(typeof perSide)[number]>('10');
  const [round, setRound] = useState<(typeof minutes)[number]>('5');
  const [span, setSpan] = useState<Span>('whole');
  const [trouble, setTrouble] = useState<string | null>(null);
  const nameOf = (id: string) => roster.find((one) => one.id === id)?.name ?? id;
  const free = roster.filter(({ id }) => !pairs.flat().includes(id));
  const one = found.data?.technique;
  const breakdown = found.data?.editions.at(-1);
  const lastGrip =
    breakdown?.checkpoints.findLast(({ kind }) => kind === 'grip') ?? breakdown?.checkpoints[0];

  const pick = (id: string) => {
    const now = picked.includes(id) ? picked.filter((other) => other !== id) : [...picked, id];
    setPicked(now);
  };
  const makePair = (members: string[]) => {
    setPairs([...pairs, members]);
    setPicked([]);
  };

  const start = async () => {
    if (!breakdown) return;
    const id = uuidv7();
    try {
      await outbox.keepSession({
        ...{
          id,
          technique,
          edition: breakdown.edition,
          startedAt: new Date().toISOString(),
          endedAt: null,
          pairs,
          rung,
        },
        from: span === 'finish' ? lastGrip!.id : null,
        to: span === 'entry' ? lastGrip!.id : null,
        ...{ repsPerSide: Number(reps), roundSeconds: Number(round) * 60 },
      });
      await navigate(`/mat/${id}`);
    } catch {
      setTrouble(
        'This device could not keep the session: its storage is full or closed. Free some and start again.',
      );
    }
  };

  return (
    <>
      <Panel>
        <h2>What</h2>
        <Row style={{ marginTop: '0.7rem' }}>
          <label>
            <strong>Technique </strong>
            <select
              value={technique}
              onChange={(event) => setTechnique(event.target.value)}
              style={{ minHeight: 44, padding: '0 0.6rem', background: 'var(--surface)', borderRadius: 6 }}
            >
              {techniques.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </select>
          </label>
          <Choice
            label="Span"
            value={span}
            options={[
              { value: 'whole', text: 'Whole' },
              {
                value: 'entry',
                text: 'Entry alone',
                title: `Up to ${readFor(lastGrip?.title ?? '', 'right')}`,
              },
              {
                value: 'finish',
                text: 'From the grip',
                title: `From ${readFor(lastGrip?.title ?? '', 'right')}`,
              },
            ]}
            onChange={setSpan}
          />
          <Choice
            label="Rung"
            value={String(rung)}
            options={rungs.map((value) => ({
              value: `${value}`,
              text: `${value}`,
              title: `${value} ${rungNames[value]}`,
            }))}
            onChange={(value) => setRung(Number(value) as Rung)}
          />
          <Quiet>{rungNames[rung]}</Quiet>
        </Row>
        <Row style={{ marginTop: '0.7rem' }}>
          <Choice
            label="Reps a side"
            value={reps}
            options={perSide.map((value) => ({ value, text: value }))}
            onChange={setReps}
          />
          <Choice
            label="Minutes a round"
            value={round}
            options={minutes.map((value) => ({ value, text: value }))}
            onChange={setRound}
          />
        </Row>
      </Panel>
      <Panel>
        <Head>
          <h2>Who works with whom</h2>
          <Row>
            <Button
              $quiet
              onPress={() => makePair(picked)}
              isDisabled={picked.length < 1 || picked.length > 3}
            >
              {picked.length === 1 ? 'Works alone' : picked.length === 3 ? 'A rotating three' : 'Make a pair'}
            </Button>
            <Button
              $quiet
              isDisabled={picked.length < 2 && free.length < 2}
              onPress={() => {
                const present = picked.length > 1 ? free.filter(({ id }) => picked.includes(id)) : free;
                setPairs([...pairs, ...pairByMass(present)]);
                setPicked([]);
              }}
            >
              {picked.length > 1 ? `Pair these ${picked.length} by mass` : 'Pair all by mass'}
            </Button>
          </Row>
        </Head>
        <Row style={{ marginTop: '0.7rem' }}>
          {free.map(({ id, name }) => (
            <Person key={id} isSelected={picked.includes(id)} onChange={() => pick(id)}>
              {name}
            </Person>
          ))}
          {free.length === 0 && <Quiet>Everybody is in a pair.</Quiet>}
        </Row>
        <Pairs aria-label="Pairs">
          {pairs.map((pair) => (
            <li key={pair.join()}>
              {pair.map(nameOf).join(' and ')}
              <button
                type="button"
                aria-label={`Undo the pair ${pair.map(nameOf).join(' and ')}`}
                onClick={() => setPairs(pairs.filter((other) => other !== pair))}
              >
                Undo
              </button>
            </li>
          ))}
        </Pairs>
      </Panel>
      <Panel>
        <h2>House rule</h2>
        <p>
          Tap early, release at once; whoever taps is let go before anything is said. Your event’s rule book
          and your country’s safeguarding rules come first.
        </p>
        {one && <Caution note={one.safetyNote} />}
      </Panel>
      {trouble && <p role="alert">{trouble}</p>}
      <Row>
        <Button $tall isDisabled={pairs.length === 0 || !breakdown} onPress={() => void start()}>
          Start with {many(pairs.length, 'pair')}
        </Button>
      </Row>
    </>
  );
}
