import { answersOf, type Breakdown, type Id, readFor, type Side } from '@ulkret/core/breakdown';
import type { Begun, SetTask } from '@ulkret/core/session';
import { memo } from 'react';
import { Chips } from './Causes';

interface PlayedProps {
  breakdown: Breakdown;
  side: Side;
  /** The partner's task. */
  set: SetTask;
  begun: Begun;
  onMeet: (defence: Id, answer: Id | null) => void;
  onCall: () => void;
}

/**
 * What the partner plays, in the lane of the causes while nothing is asked there: one tap says that a defence was met and
 * answered; a second one, that the answer did not work.
 */
export const Played = memo(function Played({ breakdown, side, set, begun, onMeet, onCall }: PlayedProps) {
  const shown = set.called ? (begun.called === null ? [] : [begun.called]) : set.task;
  const defences = breakdown.defences.filter(({ id }) => shown.includes(id));
  return (
    <Chips role="group" aria-label="What the partner plays" data-played style={{ top: 5 }}>
      {set.called && (
        <button type="button" onClick={onCall}>
          {begun.called === null ? 'Call one' : 'Call again'}
        </button>
      )}
      {defences.flatMap((defence) => {
        const met = begun.met.get(defence.id);
        const answers = answersOf(defence).map((one) => ({
          id: one.id as Id | null,
          // One that leads elsewhere takes the pair there at once: it says so.
          how: one.do === 'switch' ? `${one.how} →` : one.how,
        }));
        return (answers.length > 0 ? answers : [{ id: null, how: 'answered' }]).map(({ id, how }) => {
          const chosen = met !== undefined && met.answer === id;
          return (
            <button
              key={`${defence.id} ${id}`}
              type="button"
              aria-pressed={chosen}
              data-lost={(chosen && !met.worked) || undefined}
              onClick={() => onMeet(defence.id, id)}
            >
              <span>
                {chosen && (met.worked ? '✓ ' : '✗ ')}
                {readFor(defence.title, side)}: {readFor(how, side)}
              </span>
            </button>
          );
        });
      })}
    </Chips>
  );
});
