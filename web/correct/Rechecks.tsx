import { type Breakdown, placeOf, readFor } from '@ulkret/core/breakdown';
import type { Student } from '@ulkret/core/people';
import { type Life, lookTonight, rechecked } from '@ulkret/core/prescription';
import { Panel, Quiet } from '../ui/frame';
import { dayOf, many } from '../ui/words';

/** What was signed off a while ago and is looked at again tonight: it rides on whatever is drilled. */
export function Rechecks({
  lives,
  breakdown,
  students,
}: {
  lives: readonly Life[];
  breakdown: Breakdown;
  students: readonly Student[];
}) {
  const { tonight, wait } = lookTonight(
    lives.filter(({ technique }) => technique === breakdown.technique),
    students.map(({ id }) => id),
  );
  if (tonight.length === 0) return null;
  return (
    <Panel data-testid="look-again">
      <h2>Does it still hold?</h2>
      <Quiet>
        Signed off a while ago. {rechecked.fewestReps} reps that reach it are enough, logged as usual.
        {wait > 0 && ` ${many(wait, 'more waits', 'more wait')} for the next class.`}
      </Quiet>
      <ul>
        {tonight.map(({ id, student, terms, due }) => {
          const who = students.find((one) => one.id === student)!;
          const place = placeOf(breakdown, terms.checkpoint);
          return (
            <li key={id}>
              <strong>{who.name}</strong>: {place + 1} “
              {readFor(breakdown.checkpoints[place]?.title ?? '', who.mainSide)}”, at rung {terms.rung} or
              above; due since {dayOf(due!)}.
            </li>
          );
        })}
      </ul>
    </Panel>
  );
}
