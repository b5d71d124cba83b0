import {
  type Breakdown,
  type Door,
  type Id,
  isRelation,
  placeOf,
  readFor,
  type Side,
  type Technique,
  whenWords,
} from '@ulkret/core/breakdown';
import { type Begun, doorsIn, isDrilled, type OpenPair, type SetTask } from '@ulkret/core/session';
import { choosable, chosenAfter, type Pairing, reachWords } from '@ulkret/core/ways';
import styled from 'styled-components';
import { useHere } from '../api/signed-in';
import { Button } from '../ui/button';
import { Caution } from '../ui/caution';
import { Checkbox } from '../ui/checkbox';
import { Sheet } from '../ui/dialog';
import { Quiet } from '../ui/frame';
import { NumberField } from '../ui/number-field';

const Section = styled.section`
  display: grid;
  gap: 0.4rem;
  border-top: 1px solid var(--line);
  padding-top: 0.7rem;
  label:has(input[type='checkbox']) {
    min-height: 48px;
  }
  > button {
    justify-self: start;
    min-height: 48px;
    text-align: left;
  }
  h3 {
    font-size: 1.05rem;
  }
`;

interface PlayPanelProps {
  breakdown: Breakdown;
  span: OpenPair['span'];
  side: Side;
  who: string;
  pairing: Pairing;
  set: SetTask;
  begun: Begun;
  /** The techniques that this device has. */
  library: ReadonlyMap<Id, { technique: Technique; breakdown: Breakdown }>;
  onTask: (set: SetTask) => void;
  onWays: (ways: Id[]) => void;
  onMeasure: (checkpoint: Id, value: number | null) => void;
  onGoOn: (door: Door) => void;
  close: () => void;
}

/** What else a rep of this pair can say: what the partner plays, which way is used, what was measured, where it goes on to. */
export default function PlayPanel({
  breakdown,
  span,
  side,
  who,
  pairing,
  set,
  begun,
  library,
  onTask,
  onWays,
  onMeasure,
  onGoOn,
  close,
}: PlayPanelProps) {
  const read = (text: string) => readFor(text, side);
  const numbered = (id: Id) => {
    const place = placeOf(breakdown, id);
    return `${place + 1} ${read(breakdown.checkpoints[place]!.title)}`;
  };
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
      <Section>
        <h3>What the partner plays</h3>
        {breakdown.defences.length === 0 && <Quiet>No defence is written down for this technique.</Quiet>}
        {breakdown.defences.map(({ id, title, task, signal }) => (
          <Checkbox key={id} isSelected={set.task.includes(id)} onChange={(on) => flip(id, on)}>
            <span>
              {read(title)} <Quiet as="span">{read(task ?? signal)}</Quiet>
            </span>
          </Checkbox>
        ))}
        {set.task.length > 0 && (
          <Checkbox isSelected={set.called} onChange={(called) => onTask({ ...set, called })}>
            Call one of them at random, each rep anew
          </Checkbox>
        )}
      </Section>
      {reach && <Quiet>{reachWords(reach, academy.units)}</Quiet>}
      {ways.length > 0 && (
        <Section>
          <h3>How they do it</h3>
          {ways.map(({ checkpoint, variant }) => (
            <Checkbox
              key={variant.id}
              isSelected={pairing.chosen.has(variant.id)}
              onChange={() => onWays(chosenAfter(breakdown, pairing.chosen, variant.id))}
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
              onChange={(value) => (value === null || Number.isFinite(value)) && onMeasure(id, value)}
            />
          ))}
        </Section>
      )}
      {doors.length > 0 && (
        <Section>
          <h3>Went on to …</h3>
          {doors.map((door) => (
            <div key={`${door.answers} ${door.by}`}>
              <Button
                $quiet
                onPress={() => {
                  onGoOn(door);
                  close();
                }}
              >
                {library.get(door.technique)!.technique.name}
                {door.otherSide && ', other side'}
              </Button>{' '}
              <Quiet as="span">{read(door.how)}</Quiet>
              {door.unsafe && <Caution note="Not on a training partner." />}
            </div>
          ))}
        </Section>
      )}
      <Button onPress={close}>Done</Button>
    </Sheet>
  );
}
