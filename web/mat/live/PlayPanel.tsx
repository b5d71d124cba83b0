import {
  type Id,
  isRelation,
  type Measured as Range,
  placeOf,
  rangeWords,
  readFor,
  whenWords,
} from '@ulkret/core/breakdown';
import { isTimed } from '@ulkret/core/rep';
import {
  doorsIn,
  isDrilled,
  nothingBegun,
  type OpenScene,
  pairingOfTurn,
  type SetTask,
  type Sides,
} from '@ulkret/core/session';
import { choosable, chosenAfter, reachWords } from '@ulkret/core/variants';
import { useHere } from '../../api/signed-in';
import { Button } from '../../ui/button';
import { Caution } from '../../ui/caution';
import { Checkbox } from '../../ui/checkbox';
import { Sheet } from '../../ui/dialog';
import { Quiet, Row } from '../../ui/frame';
import { Choice } from '../../ui/choice';
import { Select } from '../../ui/select';
import { Section, sidesOptions } from './EverybodyPanel';
import { useAct, useMat, useMatStore } from './use-mat';
import { NumberField } from '../../ui/number-field';
import { usePositionName } from '../../reader/use-position-name';

const whole = '';
const noTask: SetTask = { task: [], called: false };

/** What else a rep of this pair can say: what the partner plays, which way is used, what was measured, where it goes on to. */
export default function PlayPanel({ close }: { close: () => void }) {
  const open = useMat((now) => now.open);
  return open ? <Play open={open} close={close} /> : null;
}

function Play({ open, close }: { open: OpenScene; close: () => void }) {
  const act = useAct();
  const store = useMatStore();
  const { nameOf } = store.knows();
  const common = useMat((now) => now.common);
  const { view, breakdown, technique, gone } = open;
  const { members, turn, own } = view;
  const { side } = turn;
  const pairing = pairingOfTurn(common, members, turn, technique);
  const set = gone || !own.task ? noTask : own.task;
  const who = `${nameOf(turn.student)}${turn.partner ? ` on ${nameOf(turn.partner)}` : ''}: ${technique.name}`;
  const pair = [...members];
  const onTask = (next: SetTask) =>
    act({ do: 'change', set: { is: 'task', pair, task: [...next.task], called: next.called } });
  const read = (text: string) => readFor(text, side);
  const numbered = (id: Id) => {
    const place = placeOf(breakdown, id);
    return `${place + 1} ${read(breakdown.checkpoints[place]!.title)}`;
  };
  const { academy } = useHere();
  const { reach } = pairing;
  const flip = (id: Id, on: boolean) =>
    onTask({ ...set, task: on ? [...set.task, id] : set.task.filter((one) => one !== id) });
  return (
    <Sheet label="This pair" width="40rem" close={close}>
      <h2>{who}</h2>
      {!gone && <SidesAndSpan {...{ open, numbered }} />}
      {!gone && <Entry open={open} numbered={numbered} />}
      <Section>
        <h3>What the partner plays</h3>
        {breakdown.defences.length === 0 && <Quiet>No defence is written for this technique.</Quiet>}
        {breakdown.defences.map(({ id, title, task, signal }) => (
          <Checkbox key={id} isSelected={set.task.includes(id)} onChange={(on) => flip(id, on)}>
            <span>
              {read(title)} <Quiet as="span">{read(task ?? signal)}</Quiet>
            </span>
          </Checkbox>
        ))}
        {set.task.length > 0 && (
          <Checkbox isSelected={set.called} onChange={(called) => onTask({ ...set, called })}>
            Call one of them at random for each rep
          </Checkbox>
        )}
      </Section>
      {reach && <Quiet>{reachWords(reach, academy.units)}</Quiet>}
      <InUse {...{ open, numbered }} />
      <Variants {...{ open, numbered }} chosen={pairing.chosen} of={choosable(breakdown, pairing)} />
      <Measured {...{ open, numbered }} />
      <Times {...{ open, numbered }} />
      <Doors open={open} close={close} />
      <Button onPress={close}>Done</Button>
    </Sheet>
  );
}

interface PlayPart {
  open: OpenScene;
  numbered: (id: Id) => string;
}

/** Which sides the pair drills, from where to where. */
function SidesAndSpan({ open, numbered }: PlayPart) {
  const act = useAct();
  const { breakdown, view } = open;
  const { members, own } = view;
  const pair = [...members];
  const onSpan = (next: { from?: Id | null; to?: Id | null }) =>
    act({ do: 'change', set: { is: 'span', pair, ...own.span, ...next } });
  const points = breakdown.checkpoints.map(({ id }) => ({ value: id, text: numbered(id) }));
  return (
    <Section>
      <Choice<Sides>
        label="Sides"
        value={own.sides}
        options={sidesOptions}
        onChange={(sides) =>
          act({ do: 'change', set: { is: 'sides', pair, sides }, words: `Sides: ${sides}.` })
        }
      />
      <Row>
        <Select
          label="Reps start"
          value={own.span.from ?? whole}
          options={[{ value: whole, text: 'at the beginning' }, ...points]}
          onChange={(id) => onSpan({ from: id === whole ? null : id })}
        />
        <Select
          label="and stop"
          value={own.span.to ?? whole}
          options={[{ value: whole, text: 'where they end' }, ...points]}
          onChange={(id) => onSpan({ to: id === whole ? null : id })}
        />
      </Row>
    </Section>
  );
}

/** The variants that the two bodies or the attire decide, in their own words. */
function InUse({ open, numbered }: PlayPart) {
  const { ways, turn } = open.view;
  const read = (text: string) => readFor(text, turn.side);
  const decided = ways.filter(({ variant }) => variant.when.on === 'body' || variant.when.on === 'attire');
  return (
    decided.length > 0 && (
      <Section>
        <h3>Variants for these two</h3>
        {decided.map(({ checkpoint, variant }) => (
          <div key={variant.id}>
            {numbered(checkpoint)}: {read(variant.name || whenWords(variant.when))}
            {variant.criterion && <Quiet as="span"> {read(variant.criterion)}</Quiet>}
            {variant.caution && <Caution note={read(variant.caution)} />}
          </div>
        ))}
      </Section>
    )
  );
}

/** The variants that the pair may choose between. */
function Variants({
  open,
  numbered,
  chosen,
  of: variants,
}: PlayPart & { chosen: ReadonlySet<Id>; of: ReturnType<typeof choosable> }) {
  const act = useAct();
  const { breakdown, view } = open;
  const pair = [...view.members];
  const read = (text: string) => readFor(text, view.turn.side);
  return (
    variants.length > 0 && (
      <Section>
        <h3>Variant</h3>
        {variants.map(({ checkpoint, variant }) => (
          <Checkbox
            key={variant.id}
            isSelected={chosen.has(variant.id)}
            onChange={() =>
              act({
                do: 'change',
                set: { is: 'ways', pair, ways: chosenAfter(breakdown, chosen, variant.id) },
              })
            }
          >
            <span>
              {numbered(checkpoint)}: {read(variant.name || whenWords(variant.when))}{' '}
              <Quiet as="span">
                {read(whenWords(variant.when))}
                {variant.criterion && `: ${read(variant.criterion)}`}
              </Quiet>
              {variant.caution && <Caution note={read(variant.caution)} />}
            </span>
          </Checkbox>
        ))}
      </Section>
    )
  );
}

/** What a checkpoint measures, noted with the next rep. */
function Measured({ open, numbered }: PlayPart) {
  const act = useAct();
  const { breakdown, view } = open;
  const { span } = view;
  const begun = useMat(({ state }) => state.begun.get(view.key) ?? nothingBegun);
  const measured = breakdown.checkpoints.flatMap(({ id, tolerance }) =>
    tolerance && !isRelation(tolerance) && isDrilled({ breakdown, span }, id) ? [{ id, tolerance }] : [],
  );
  return (
    measured.length > 0 && (
      <Section>
        <h3>Measured in the next rep</h3>
        {measured.map(({ id, tolerance }) => (
          <NumberField
            key={id}
            label={`${numbered(id)}, ${tolerance.unit} (${rangeOf(tolerance)})`}
            value={begun.measured.get(id) ?? null}
            onChange={(value) => {
              if (value === null || Number.isFinite(value))
                act({ do: 'tap', tap: { do: 'measure', checkpoint: id, value } });
            }}
          />
        ))}
      </Section>
    )
  );
}

const rangeOf = (range: Range) => `in range: ${rangeWords(range)}`;

/** How soon a checkpoint came after the one before, or after the one that it comes together with, in the next rep. */
function Times({ open, numbered }: PlayPart) {
  const act = useAct();
  const { breakdown, view } = open;
  const begun = useMat(({ state }) => state.begun.get(view.key) ?? nothingBegun);
  const timed = breakdown.checkpoints.filter(
    (one) => isTimed(one) && isDrilled({ breakdown, span: view.span }, one.id),
  );
  return (
    timed.length > 0 && (
      <Section>
        <h3>Timed in the next rep</h3>
        {timed.map(({ id, together, withinSeconds }) => (
          <NumberField
            key={id}
            label={
              together === undefined
                ? `${numbered(id)}, seconds after the one before (at most ${withinSeconds})`
                : `${numbered(id)}, seconds from ${numbered(together)} (0 is at once)`
            }
            value={begun.timed.get(id) ?? null}
            onChange={(seconds) => {
              if (seconds === null || (Number.isFinite(seconds) && seconds >= 0 && seconds <= 600))
                act({ do: 'tap', tap: { do: 'time', checkpoint: id, seconds } });
            }}
          />
        ))}
      </Section>
    )
  );
}

/** The entry by which the reps of this pair begin: the span then starts where it joins. */
function Entry({ open, numbered }: PlayPart) {
  const act = useAct();
  const { breakdown, view } = open;
  const placeNamed = usePositionName();
  const entries = breakdown.entries ?? [];
  const pair = [...view.members];
  const first = breakdown.checkpoints[0]?.id;
  if (entries.length === 0) return null;
  return (
    <Section>
      <Select
        label="Entry"
        value={view.own.entry ?? whole}
        options={[
          { value: whole, text: `from ${placeNamed(open.technique.startPosition) || 'the start position'}` },
          ...entries.map(({ id, from, joinsAt }) => ({
            value: id,
            text: `from ${placeNamed(readFor(from, view.turn.side))}, joining at ${numbered(joinsAt)}`,
          })),
        ]}
        onChange={(value) => {
          const entry = entries.find(({ id }) => id === value);
          const from = entry && entry.joinsAt !== first ? entry.joinsAt : null;
          act({ do: 'change', set: { is: 'entry', pair, entry: entry?.id ?? null } });
          act({ do: 'change', set: { is: 'span', pair, from, to: view.own.span.to } });
        }}
      />
    </Section>
  );
}

/** The techniques that the attacker may switch to from here. */
function Doors({ open, close }: { open: OpenScene; close: () => void }) {
  const act = useAct();
  const { library } = useMatStore().knows();
  const { breakdown, view } = open;
  const read = (text: string) => readFor(text, view.turn.side);
  const doors = doorsIn(breakdown, view.span).filter(({ technique }) => library.has(technique));
  return (
    doors.length > 0 && (
      <Section>
        <h3>Switched to …</h3>
        {doors.map((door) => (
          <div key={`${door.answers} ${door.by}`}>
            <Button
              $quiet
              onPress={() => {
                act({ do: 'go on', door });
                close();
              }}
            >
              {library.get(door.technique)!.technique.name}
              {door.otherSide && ', other side'}
            </Button>{' '}
            <Quiet as="span">{read(door.when ? `${door.how} ${door.when}` : door.how)}</Quiet>
            {door.unsafe && <Caution note="Not in training" />}
          </div>
        ))}
      </Section>
    )
  );
}
