import type { Kit } from '@ulkret/contract';
import { readFor } from '@ulkret/core/breakdown';
import { activityAt, neutralRules, permit } from '@ulkret/core/care';
import { type Student, Student as StudentSchema } from '@ulkret/core/people';
import { type Rung, rungNames, rungs } from '@ulkret/core/rep';
import { attackFirst, type First, lastClass, pairByMass, type Session } from '@ulkret/core/session';
import { type FormEvent, useMemo, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { useSWRConfig } from 'swr';
import { uuidv7 } from 'uuidv7';
import { endpoints } from '@ulkret/contract';
import { clock } from '../api/clock';
import { useOutbox } from '../device/use-outbox';
import { addressOf } from '../api/ask';
import { useHere } from '../api/signed-in';
import { Empty, Loaded } from '../ui/states';
import { Button } from '../ui/button';
import { Caution } from '../ui/caution';
import { Choice } from '../ui/choice';
import { Head, Page, Panel, Quiet, Row } from '../ui/frame';
import { Select } from '../ui/select';
import { LineInput } from '../ui/text-field';
import { dayOf, many } from '../ui/words';
import { Chip } from '../ui/chip';
import { shortestReason } from './OverridePanel';
import { PairEditor } from './PairEditor';
import { today, useKit } from '../device/kit';
import { usePairPermit } from './pair-permit';
import { usePrescribed } from '../reader/use-prescribed';
import { Title } from '../ui/title';

const perSide = ['5', '7', '10', '15', '20'] as const;
const minutes = ['1', '2', '3', '5', '8', '10'] as const;
const roundCounts = ['1', '2', '3', '4', '5', '6'] as const;

export default function SetUpPage() {
  const kit = useKit();
  return (
    <Page>
      <Loaded of={kit} what="the roster and the library">
        {(known) => {
          if (known.techniques.length === 0) return <Empty title="There is no technique to drill yet." />;
          return <SetUp kit={known} />;
        }}
      </Loaded>
    </Page>
  );
}

/** Spans that are drilled: the whole, the entry up to the last grip, or from a checkpoint on. */
type Span = 'whole' | 'entry' | 'from';
type Turns = 'reps' | 'minutes';

const guest = (name: string): Student =>
  StudentSchema.parse({
    id: `g-${uuidv7()}`,
    name,
    born: null,
    mainSide: 'right',
    experienceMonths: 0,
    statureCm: null,
    massKg: null,
    armSpanCm: null,
    neckGirthCm: null,
    chestGirthCm: null,
    hipMobility: null,
    injuries: [],
    guest: true,
    archived: false,
  });

/** A number among those that are offered, or the first of them. */
const among = <T extends string>(offered: readonly T[], value: number | null, usual: T): T =>
  offered.find((one) => Number(one) === value) ?? usual;

function SetUp({ kit }: { kit: Kit }) {
  const navigate = useNavigate();
  const outbox = useOutbox();
  const { coach } = useHere();
  const { mutate } = useSWRConfig();
  const last = lastClass(kit.sessions);
  const first =
    kit.techniques.find(({ technique }) => technique.id === last?.technique) ??
    kit.techniques.find(({ technique }) => technique.kind === 'submission') ??
    kit.techniques[0]!;
  const [guests, setGuests] = useState<readonly Student[]>([]);
  const [technique, setTechnique] = useState(first.technique.id);
  const [present, setPresent] = useState<readonly string[]>([]);
  const [pairs, setPairs] = useState<string[][]>([]);
  const [rung, setRung] = useState<Rung>(2);
  const [turns, setTurns] = useState<Turns>('reps');
  const [reps, setReps] = useState<(typeof perSide)[number]>('10');
  const [round, setRound] = useState<(typeof minutes)[number]>('5');
  const [rounds, setRounds] = useState<(typeof roundCounts)[number]>('3');
  const [span, setSpan] = useState<Span>('whole');
  const [from, setFrom] = useState('');
  const [attacks, setAttacks] = useState<First>('as paired');
  const [reasons, setReasons] = useState<Readonly<Record<string, string>>>({});
  const [trouble, setTrouble] = useState<string | null>(null);

  const roster = useMemo(() => {
    const known = new Set(kit.students.map(({ id }) => id));
    return [
      ...kit.students.filter(({ archived }) => !archived),
      ...guests.filter(({ id }) => !known.has(id)),
    ];
  }, [kit.students, guests]);
  const people = useMemo(() => new Map(roster.map((one) => [one.id, one])), [roster]);
  const nameOf = (id: string) => people.get(id)?.name ?? id;
  const chosen = kit.techniques.find((one) => one.technique.id === technique) ?? first;
  const { breakdown } = chosen;
  const known = usePrescribed(chosen.technique.id);
  const prescribed = known.filter(
    ({ student, checkpoint }) =>
      present.includes(student) && breakdown.checkpoints.some((one) => one.id === checkpoint),
  );
  const permitOf = usePairPermit(kit, people, chosen.technique, rung);
  const lastGrip = breakdown.checkpoints.findLast(({ kind }) => kind === 'grip') ?? breakdown.checkpoints[0]!;
  const start = breakdown.checkpoints.find(({ id }) => id === from)?.id ?? lastGrip.id;
  const here = roster.filter(({ id }) => present.includes(id)).map(({ id }) => id);
  const ready = attackFirst(pairs, attacks, (id) => people.get(id));
  const held = ready.filter((pair) => {
    const permitted = permitOf(pair);
    return (
      permitted?.verdict === 'not allowed' &&
      !(permitted.overridable && (reasons[pair.join(' ')] ?? '').trim().length >= shortestReason)
    );
  });

  const mark = (ids: readonly string[]) => {
    setPresent(ids);
    setPairs(pairs.map((pair) => pair.filter((id) => ids.includes(id))).filter(({ length }) => length > 1));
  };
  const pairThem = (free: readonly string[]) => {
    const may = (a: string, b: string) => {
      const permitted = permitOf([a, b]);
      return permitted === null || permitted.verdict !== 'not allowed';
    };
    setPairs([
      ...pairs,
      ...pairByMass(
        free.map((id) => people.get(id)!),
        may,
      ),
    ]);
  };
  /** Everything as in a session before; who has left the roster is left out. */
  const repeat = (session: Session) => {
    const still = session.pairs
      .map((pair) => pair.filter((id) => people.has(id)))
      .filter(({ length }) => length > 0);
    setPresent(still.flat());
    setPairs(still.filter(({ length }, i) => length > 1 || session.pairs[i]?.length === 1));
    if (kit.techniques.some((one) => one.technique.id === session.technique)) setTechnique(session.technique);
    setRung(session.rung);
    setTurns(session.repsPerSide === null ? 'minutes' : 'reps');
    setReps(among(perSide, session.repsPerSide, '10'));
    setRound(among(minutes, session.roundSeconds / 60, '5'));
    setRounds(among(roundCounts, session.rounds, '3'));
    setSpan(session.to !== null ? 'entry' : session.from !== null ? 'from' : 'whole');
    setFrom(session.from ?? '');
    setAttacks('as paired');
  };
  const addGuest = async (name: string) => {
    const one = guest(name);
    setGuests([...guests, one]);
    setPresent([...present, one.id]);
    try {
      await outbox.keepStudent(one);
      await mutate(
        addressOf(endpoints.kit),
        (known: Kit | undefined) => known && { ...known, students: [...known.students, one] },
        { revalidate: false },
      );
    } catch {
      setTrouble('This device could not keep the guest: its storage is full or closed. Free some first.');
    }
  };

  const begin = async () => {
    const id = uuidv7();
    try {
      await outbox.keepSession({
        id,
        technique: chosen.technique.id,
        edition: breakdown.edition,
        startedAt: clock.stamp(),
        endedAt: null,
        pairs: ready,
        rung,
        prescribed,
        from: span === 'from' ? start : null,
        to: span === 'entry' ? lastGrip.id : null,
        repsPerSide: turns === 'reps' ? Number(reps) : null,
        roundSeconds: Number(round) * 60,
        rounds: Number(rounds),
      });
    } catch {
      setTrouble(
        'This device could not keep the session: its storage is full or closed. Free some and start again.',
      );
      return;
    }
    for (const pair of ready) {
      const reason = reasons[pair.join(' ')]?.trim();
      if (!reason || pair.length < 2) continue;
      for (const [i, student] of pair.entries()) {
        const partner = pair[(i + 1) % pair.length]!;
        const asked = permit(people.get(student)!, people.get(partner)!, chosen.technique, activityAt(rung), {
          rules: neutralRules,
          today: today(),
          notes: kit.notes,
        });
        if (asked.verdict === 'not allowed' && asked.overridable)
          await outbox.record(id, {
            is: 'overrides',
            fact: {
              id: uuidv7(),
              session: id,
              at: clock.stamp(),
              observer: coach.id,
              student,
              partner,
              technique: chosen.technique.id,
              reason,
            },
          });
      }
    }
    await navigate(`/mat/${id}`);
  };

  return (
    <>
      <Head>
        <Title>Start a session</Title>
        <Row>
          {last && (
            <Button $tall $quiet onPress={() => repeat(last)}>
              Repeat {dayOf(last.startedAt)}:{' '}
              {kit.techniques.find((one) => one.technique.id === last.technique)?.technique.name},{' '}
              {many(last.pairs.length, 'pair')}
            </Button>
          )}
          <Button $tall isDisabled={pairs.length === 0 || held.length > 0} onPress={() => void begin()}>
            Start with {many(pairs.length, 'pair')}
          </Button>
        </Row>
      </Head>
      {held.length > 0 && (
        <p role="status">
          Not allowed as it is: {held.map((pair) => pair.map(nameOf).join(' and ')).join('; ')}. Change
          partners, the rung or the technique, or write why where a coach may.
        </p>
      )}
      {trouble && <p role="alert">{trouble}</p>}
      <Panel>
        <Row>
          <Select
            label="Technique"
            value={chosen.technique.id}
            options={kit.techniques.map((one) => ({ value: one.technique.id, text: one.technique.name }))}
            onChange={setTechnique}
          />
          <Choice
            label="Span"
            value={span}
            options={[
              { value: 'whole', text: 'Whole' },
              {
                value: 'entry',
                text: 'Entry alone',
                title: `Entry alone, up to ${readFor(lastGrip.title, 'right')}`,
              },
              { value: 'from', text: 'From …', title: 'From a checkpoint on' },
            ]}
            onChange={setSpan}
          />
          {span === 'from' && (
            <Select
              label="From"
              value={start}
              options={breakdown.checkpoints.map(({ id, title }, i) => ({
                value: id,
                text: `${i + 1} ${readFor(title, 'right')}`,
              }))}
              onChange={setFrom}
            />
          )}
          <Choice
            label={`Rung: ${rungNames[rung]}`}
            value={String(rung)}
            options={rungs.map((value) => ({
              value: `${value}`,
              text: `${value}`,
              title: `${value} ${rungNames[value]}`,
            }))}
            onChange={(value) => setRung(Number(value) as Rung)}
          />
        </Row>
        <Row style={{ marginTop: '0.6rem' }}>
          <Choice
            label="Sides and roles change"
            value={turns}
            options={[
              { value: 'reps', text: 'by count' },
              { value: 'minutes', text: 'by the clock' },
            ]}
            onChange={setTurns}
          />
          {turns === 'reps' && (
            <Select
              label="Reps a side"
              value={reps}
              options={perSide.map((value) => ({ value, text: value }))}
              onChange={setReps}
            />
          )}
          <Select
            label="Minutes a round"
            value={round}
            options={minutes.map((value) => ({ value, text: value }))}
            onChange={setRound}
          />
          <Select
            label="Rounds"
            value={rounds}
            options={roundCounts.map((value) => ({ value, text: value }))}
            onChange={setRounds}
          />
          <Select
            label="Attacks first"
            value={attacks}
            options={[
              { value: 'as paired', text: 'as paired' },
              { value: 'lighter', text: 'the lighter one' },
              { value: 'heavier', text: 'the heavier one' },
              { value: 'less experienced', text: 'the newer one' },
            ]}
            onChange={setAttacks}
          />
        </Row>
      </Panel>
      <Panel>
        <Head>
          <h2>Who is here{here.length > 0 && `: ${here.length}`}</h2>
          <Row>
            {roster.length > 0 && (
              <Button
                $quiet
                onPress={() => mark(here.length === roster.length ? [] : roster.map(({ id }) => id))}
              >
                {here.length === roster.length ? 'Nobody' : 'Everybody'}
              </Button>
            )}
            <GuestField onAdd={(name) => void addGuest(name)} />
          </Row>
        </Head>
        <Row style={{ marginTop: '0.6rem' }}>
          {roster.map(({ id, name, guest: visits }) => (
            <Chip
              key={id}
              isSelected={present.includes(id)}
              onChange={(on) => mark(on ? [...present, id] : present.filter((other) => other !== id))}
            >
              {name}
              {visits && ' (guest)'}
            </Chip>
          ))}
          {roster.length === 0 && (
            <Quiet>
              Nobody is on the roster yet: add your students under <Link to="/people">People</Link>, or a
              guest here.
            </Quiet>
          )}
        </Row>
      </Panel>
      <Panel style={{ display: 'grid', gap: '0.6rem' }}>
        <Row>
          <h2>Who works with whom</h2>
          {prescribed.length > 0 && (
            <Quiet>{many(prescribed.length, 'person has', 'people have')} something to work on in it.</Quiet>
          )}
        </Row>
        <PairEditor
          present={here}
          pairs={pairs}
          onPairs={setPairs}
          nameOf={nameOf}
          permitOf={permitOf}
          reasons={reasons}
          onReason={(pair, reason) => setReasons({ ...reasons, [pair.join(' ')]: reason })}
          onPairThem={pairThem}
        />
      </Panel>
      <Panel>
        <p>
          <strong>House rule:</strong> tap early, release at once; whoever taps is let go before anything is
          said. {neutralRules.note}
        </p>
        <Caution note={chosen.technique.safetyNote} />
      </Panel>
    </>
  );
}

function GuestField({ onAdd }: { onAdd: (name: string) => void }) {
  const [name, setName] = useState('');
  return (
    <form
      style={{ display: 'flex', gap: '0.5rem' }}
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        if (name.trim() === '') return;
        onAdd(name.trim());
        setName('');
      }}
    >
      <LineInput
        aria-label="A guest"
        placeholder="A guest’s name"
        value={name}
        maxLength={80}
        onChange={(event) => setName(event.target.value)}
      />
      <Button type="submit" $quiet isDisabled={name.trim() === ''}>
        Add
      </Button>
    </form>
  );
}
