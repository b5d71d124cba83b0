import type { Kit } from '@ulkret/contract';
import { readFor } from '@ulkret/core/breakdown';
import { type Rung, rungNames, rungs } from '@ulkret/core/rep';
import { lastGripOf, startOf } from '@ulkret/core/session';
import { Link } from 'react-router';
import styled from 'styled-components';
import { rulesOf, useKit } from '../../device/kit';
import { OfflineNotice } from '../../device/OfflineNotice';
import { Button } from '../../ui/button';
import { Caution } from '../../ui/caution';
import { Chip } from '../../ui/chip';
import { Choice } from '../../ui/choice';
import { Head, Page, Panel, Quiet, Row } from '../../ui/frame';
import { Hint } from '../../ui/hint';
import { Select } from '../../ui/select';
import { Empty, Loaded } from '../../ui/states';
import { Title } from '../../ui/title';
import { useNarrow } from '../../ui/use-narrow';
import { dayOf, many } from '../../ui/words';
import { GuestField } from '../pairs/GuestField';
import { PairEditor } from '../pairs/PairEditor';
import { OpenClasses } from './OpenClasses';
import { TooMuch } from './TooMuch';
import { useSetUp } from './use-set-up';

/** On a phone the way on stays in reach, above the bar of places. */
const InReach = styled.div`
  position: sticky;
  bottom: 4.4rem;
  z-index: 5;
  display: grid;
  padding: 0.5rem 0;
  > button {
    box-shadow: 0 0 0 6px var(--ground);
  }
`;

const perSide = [1, 2, 3, 5, 7, 10, 15, 20];
const rests = [0, 30, 60, 90, 120];
const minutes = [1, 2, 3, 5, 8, 10];
const roundCounts = [1, 2, 3, 4, 5, 6];

export default function SetUpPage() {
  const kit = useKit();
  return (
    <Page>
      <Loaded of={kit} what="the roster and the library">
        {(known) => {
          if (known.techniques.length === 0)
            return (
              <Empty title="No techniques to drill yet.">
                <p>
                  Publish a breakdown in the <Link to="/library">Library</Link>, or add those that come with
                  Ulkret there.
                </p>
              </Empty>
            );
          return <SetUp kit={known} />;
        }}
      </Loaded>
    </Page>
  );
}

/** What is offered, and what a session before had, if it is none of these. */
const offered = (list: readonly number[], now: number) =>
  [...new Set([...list, now])].sort((a, b) => a - b).map((n) => ({ value: String(n), text: String(n) }));

function SetUp({ kit }: { kit: Kit }) {
  const live = useSetUp(kit);
  const { last, chosen, here, going, trouble, nameOf } = live;
  const rules = rulesOf(kit);
  const narrow = useNarrow();
  const start = (
    <Button $tall isDisabled={going.length === 0} onPress={() => void live.begin()}>
      Start with {many(going.length, 'pair')}
    </Button>
  );

  return (
    <>
      <Head>
        <Title>Set up a class</Title>
        <Row>
          {last && (
            <Button $tall $quiet onPress={() => live.repeat(last)}>
              Repeat {dayOf(last.startedAt)}:{' '}
              {kit.techniques.find((one) => one.technique.id === last.technique)?.technique.name},{' '}
              {many(last.pairs.length, 'pair')}
            </Button>
          )}
          {!narrow && start}
        </Row>
      </Head>
      <OfflineNotice />
      <OpenClasses sessions={kit.sessions} here={here} nameOf={nameOf} techniques={kit.techniques} />
      <Waiting live={live} />
      {trouble && <p role="alert">{trouble}</p>}
      <Hint name="rungs">
        Rung = how much the partner resists: {rungs.map((one) => `${one} ${rungNames[one]}`).join(', ')}.
      </Hint>
      <Panel>
        <WhatRow kit={kit} live={live} />
        <DoseRow live={live} />
      </Panel>
      <WhoIsHere live={live} />
      <WhoWithWhom live={live} />
      <Panel>
        <p>
          <strong>Rule:</strong> {rules.tap} {rules.note}
        </p>
        <Caution note={chosen.technique.safetyNote} />
      </Panel>
      {narrow && <InReach>{start}</InReach>}
    </>
  );
}

type SetUpNow = ReturnType<typeof useSetUp>;

/** Why some cannot start as they are, and what would help. */
function Waiting({ live }: { live: SetUpNow }) {
  const { held, unpairable, byHand, tooMuch, setUp, set, nameOf } = live;
  return (
    (held.length > 0 || unpairable.length > 0 || byHand.length > 0 || tooMuch.length > 0) && (
      <ul role="status">
        {held.map(({ pair, why }) => (
          <li key={pair.join()}>
            <strong>{pair.map(nameOf).join(' and ')} wait.</strong> {why} Change partners, the rung or the
            technique; the others can start.
          </li>
        ))}
        {unpairable.map(({ id, why }) => (
          <li key={id}>
            <strong>{nameOf(id)} cannot be paired.</strong> {why}
          </li>
        ))}
        {byHand.length > 0 && (
          <li>
            <strong>Pair by hand:</strong> {byHand.join('; ')}.
          </li>
        )}
        <TooMuch
          of={tooMuch}
          repsPerSide={setUp.repsPerSide}
          nameOf={nameOf}
          onDose={(repsPerSide) => set({ repsPerSide })}
          onEntry={() => set({ span: 'entry' })}
        />
      </ul>
    )
  );
}

/** What is drilled, from where to where, at which rung. */
function WhatRow({ kit, live }: { kit: Kit; live: SetUpNow }) {
  const { setUp, set, chosen } = live;
  const { rung, span } = setUp;
  const { breakdown } = chosen;
  const lastGrip = lastGripOf(breakdown);
  return (
    <Row>
      <Select
        label="Technique"
        value={chosen.technique.id}
        options={kit.techniques
          .map((one) => ({ value: one.technique.id, text: one.technique.name }))
          .sort((a, b) => a.text.localeCompare(b.text))}
        onChange={(technique) => set({ technique })}
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
        onChange={(next) => set({ span: next })}
      />
      {span === 'from' && (
        <Select
          label="From"
          value={startOf(setUp, breakdown)}
          options={breakdown.checkpoints.map(({ id, title }, i) => ({
            value: id,
            text: `${i + 1} ${readFor(title, 'right')}`,
          }))}
          onChange={(from) => set({ from })}
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
        onChange={(value) => set({ rung: Number(value) as Rung })}
      />
    </Row>
  );
}

/** The dose, and the first attacker. */
function DoseRow({ live }: { live: SetUpNow }) {
  const { setUp, set, chosen } = live;
  return (
    <Row style={{ marginTop: '0.6rem' }}>
      <Choice
        label="Sides and roles change"
        value={setUp.turns}
        options={[
          { value: 'reps', text: 'by count' },
          { value: 'minutes', text: 'by the clock' },
        ]}
        onChange={(turns) => set({ turns })}
      />
      {setUp.turns === 'reps' && (
        <Select
          label="Reps a side"
          value={String(setUp.repsPerSide)}
          options={offered(perSide, setUp.repsPerSide)}
          onChange={(n) => set({ repsPerSide: Number(n) })}
        />
      )}
      <Select
        label="Minutes a round"
        value={String(setUp.roundMinutes)}
        options={offered(minutes, setUp.roundMinutes)}
        onChange={(n) => set({ roundMinutes: Number(n) })}
      />
      <Select
        label="Rounds"
        value={String(setUp.rounds)}
        options={offered(roundCounts, setUp.rounds)}
        onChange={(n) => set({ rounds: Number(n) })}
      />
      <Select
        label="Rest, seconds"
        value={String(setUp.restSeconds)}
        options={offered(rests, setUp.restSeconds)}
        onChange={(n) => set({ restSeconds: Number(n) })}
      />
      <Select
        label="Attacks first"
        value={setUp.attacks}
        options={[
          { value: 'as paired', text: 'as paired' },
          { value: 'lighter', text: 'lighter student' },
          { value: 'heavier', text: 'heavier student' },
          { value: 'less experienced', text: 'newer student' },
        ]}
        onChange={(attacks) => set({ attacks })}
      />
      {chosen.technique.attire === 'either' && (
        <Select
          label="Worn"
          value={setUp.attire ?? 'any'}
          options={[
            { value: 'any', text: 'not recorded' },
            { value: 'gi', text: 'gi' },
            { value: 'no-gi', text: 'no-gi' },
          ]}
          onChange={(attire) => set({ attire: attire === 'any' ? null : attire })}
        />
      )}
    </Row>
  );
}

function WhoIsHere({ live }: { live: SetUpNow }) {
  const { setUp, step, roster, here, nameOf } = live;
  const { present } = setUp;
  return (
    <Panel>
      <Head>
        <h2>Who is here{here.length > 0 && `: ${here.length}`}</h2>
        <Row>
          {roster.length > 0 && (
            <Button
              $quiet
              onPress={() =>
                step({
                  do: 'present',
                  ids: here.length === roster.length ? [] : roster.map(({ id }) => id),
                })
              }
            >
              {here.length === roster.length ? 'Nobody' : 'Everybody'}
            </Button>
          )}
          <GuestField onAdd={(name) => void live.addGuest(name)} />
        </Row>
      </Head>
      <Row style={{ marginTop: '0.6rem' }}>
        {roster.map(({ id, guest: visits }) => (
          <Chip
            key={id}
            isSelected={present.includes(id)}
            onChange={(on) => step({ do: on ? 'comes' : 'goes', id })}
          >
            {nameOf(id)}
            {visits && ' (guest)'}
          </Chip>
        ))}
        {roster.length === 0 && (
          <Quiet>
            The roster is empty: add your students under <Link to="/people">People</Link>, or a guest here.
          </Quiet>
        )}
      </Row>
    </Panel>
  );
}

function WhoWithWhom({ live }: { live: SetUpNow }) {
  const { setUp, step, prescribed, deciding, permitOf, nameOf } = live;
  return (
    <Panel style={{ display: 'grid', gap: '0.6rem' }}>
      <Row>
        <h2>Who works with whom</h2>
        {deciding && <Quiet>Loading corrections. Start now and this class won’t have them.</Quiet>}
        {prescribed.length > 0 && (
          <Quiet>{many(prescribed.length, 'person has', 'people have')} a correction here.</Quiet>
        )}
      </Row>
      <PairEditor
        groups={live.groups}
        onChange={(change) => step({ do: 'group', changes: [change] })}
        nameOf={nameOf}
        permitOf={permitOf}
        reasons={setUp.reasons}
        onReason={(pair, words) => step({ do: 'reason', pair, words })}
        onPairThem={live.pairThem}
      />
    </Panel>
  );
}
