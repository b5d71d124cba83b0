import { type Id, isRelation, placeOf, readFor, whenWords } from '@ulkret/core/breakdown';
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
  const { nameOf, library } = store.knows();
  const common = useMat((now) => now.common);
  const { view, breakdown, technique, gone } = open;
  const { members, turn, span, own } = view;
  const { side } = turn;
  const begun = useMat(({ state }) => state.begun.get(view.key) ?? nothingBegun);
  const pairing = pairingOfTurn(common, members, turn, technique);
  const set = gone || !own.task ? noTask : own.task;
  const who = `${nameOf(turn.student)}${turn.partner ? ` on ${nameOf(turn.partner)}` : ''}: ${technique.name}`;
  const pair = [...members];
  const onTask = (next: SetTask) =>
    act({ do: 'change', set: { is: 'task', pair, task: [...next.task], called: next.called } });
  const onSpan = (next: { from?: Id | null; to?: Id | null }) =>
    act({ do: 'change', set: { is: 'span', pair, ...own.span, ...next } });
  const read = (text: string) => readFor(text, side);
  const numbered = (id: Id) => {
    const place = placeOf(breakdown, id);
    return `${place + 1} ${read(breakdown.checkpoints[place]!.title)}`;
  };
  const points = breakdown.checkpoints.map(({ id }) => ({ value: id, text: numbered(id) }));
  const { academy } = useHere();
  const { reach } = pairing;
  const ways = choosable(breakdown, pairing);
  const doors = doorsIn(breakdown, span).filter(({ technique }) => library.has(technique));
  const measured = breakdown.checkpoints.flatMap(({ id, tolerance }) =>
    tolerance && !isRelation(tolerance) && isDrilled({ breakdown, span }, id) ? [{ id, tolerance }] : [],
  );
  const flip = (id: Id, on: boolean) =>
    onTask({ ...set, task: on ? [...set.task, id] : set.task.filter((one) => one !== id) });
  return (
    <Sheet label="This pair" width="40rem" close={close}>
      <h2>{who}</h2>
      {!gone && (
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
      )}
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
      {ways.length > 0 && (
        <Section>
          <h3>Variant</h3>
          {ways.map(({ checkpoint, variant }) => (
            <Checkbox
              key={variant.id}
              isSelected={pairing.chosen.has(variant.id)}
              onChange={() =>
                act({
                  do: 'change',
                  set: { is: 'ways', pair, ways: chosenAfter(breakdown, pairing.chosen, variant.id) },
                })
              }
            >
              <span>
                {numbered(checkpoint)}: {read(variant.name || whenWords(variant.when))}{' '}
                <Quiet as="span">{read(whenWords(variant.when))}</Quiet>
              </span>
            </Checkbox>
          ))}
        </Section>
      )}
      {measured.length > 0 && (
        <Section>
          <h3>Measured in the next rep</h3>
          {measured.map(({ id, tolerance }) => (
            <NumberField
              key={id}
              label={`${numbered(id)}, ${tolerance.unit}`}
              value={begun.measured.get(id) ?? null}
              onChange={(value) => {
                if (value === null || Number.isFinite(value))
                  act({ do: 'tap', tap: { do: 'measure', checkpoint: id, value } });
              }}
            />
          ))}
        </Section>
      )}
      {doors.length > 0 && (
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
              <Quiet as="span">{read(door.how)}</Quiet>
              {door.unsafe && <Caution note="Not in training" />}
            </div>
          ))}
        </Section>
      )}
      <Button onPress={close}>Done</Button>
    </Sheet>
  );
}
