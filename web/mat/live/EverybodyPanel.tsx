import { readFor } from '@ulkret/core/breakdown';
import { rungNames, type Rung, rungs } from '@ulkret/core/rep';
import type { MatAction, Sides } from '@ulkret/core/session';
import styled from 'styled-components';
import { Button } from '../../ui/button';
import { Checkbox } from '../../ui/checkbox';
import { Choice } from '../../ui/choice';
import { Sheet } from '../../ui/dialog';
import { Quiet, Row } from '../../ui/frame';
import { Stopwatch } from './Stopwatch';
import { useDoingHere } from './use-doing';
import { useAct, useMat, useMatStore } from './use-mat';

export const Section = styled.section`
  display: grid;
  gap: 0.4rem;
  border-top: 1px solid var(--line);
  padding-top: 0.7rem;
  label:has(input[type='checkbox']),
  [role='radio'],
  button {
    min-height: 48px;
  }
  > button {
    justify-self: start;
    text-align: left;
  }
  h3 {
    font-size: 1.05rem;
  }
`;

export const sidesOptions: { value: Sides; text: string }[] = [
  { value: 'both', text: 'Both' },
  { value: 'right', text: 'Right' },
  { value: 'left', text: 'Left' },
  { value: 'random', text: 'Random' },
];

/** What is done to all pairs at once. A pair that was set by hand follows as well. */
export default function EverybodyPanel({ close }: { close: () => void }) {
  const store = useMatStore();
  const act = useAct();
  const { silent, silence } = useDoingHere();
  const everybody = useMat(({ common }) => common.now.everybody);
  const { breakdown } = store.knows();
  const task = everybody.task ?? { task: [], called: false };
  const does = (action: MatAction) => () => {
    act(action);
    close();
  };
  const setTask = (next: typeof task) =>
    act({ do: 'change', set: { is: 'task', pair: null, task: [...next.task], called: next.called } });
  return (
    <Sheet label="All pairs" width="38rem" close={close}>
      <h2>All pairs</h2>
      <Row>
        <Button $tall onPress={does({ do: 'everybody switches' })}>
          Switch roles
        </Button>
        <Button $tall $quiet onPress={does({ do: 'partners rotate' })}>
          Rotate partners
        </Button>
        <Button $tall $quiet onPress={() => act({ do: 'over', over: { is: 'pairs' } })}>
          Change pairs
        </Button>
        <Button $tall $quiet onPress={() => act({ do: 'over', over: { is: 'reps' } })}>
          All reps
        </Button>
      </Row>
      <Section>
        <Choice
          label="Rung"
          value={String(everybody.rung)}
          options={rungs.map((rung) => ({
            value: String(rung),
            text: String(rung),
            title: `${rung} ${rungNames[rung]}`,
          }))}
          onChange={(rung) =>
            act({
              do: 'change',
              set: { is: 'rung', pair: null, rung: Number(rung) as Rung },
              words: `Rung ${rung} for all pairs.`,
            })
          }
        />
        <Choice<Sides>
          label="Sides"
          value={everybody.sides}
          options={sidesOptions}
          onChange={(sides) => act({ do: 'change', set: { is: 'sides', pair: null, sides } })}
        />
      </Section>
      <Section>
        <h3>What all partners play</h3>
        {breakdown.defences.length === 0 && <Quiet>No defence is written for this technique.</Quiet>}
        {breakdown.defences.map(({ id, title }) => (
          <Checkbox
            key={id}
            isSelected={task.task.includes(id)}
            onChange={(on) =>
              setTask({ ...task, task: on ? [...task.task, id] : task.task.filter((one) => one !== id) })
            }
          >
            {readFor(title, 'right')}
          </Checkbox>
        ))}
        {task.task.length > 0 && (
          <Checkbox isSelected={task.called} onChange={(called) => setTask({ ...task, called })}>
            Call one of them at random for each rep
          </Checkbox>
        )}
      </Section>
      <Section>
        <h3>A hold</h3>
        <Stopwatch />
      </Section>
      <Section>
        <Checkbox isSelected={silent} onChange={silence}>
          Mute the clock’s signals
        </Checkbox>
      </Section>
      <Button $tall onPress={close}>
        Done
      </Button>
    </Sheet>
  );
}
