import type { Breakdown } from '@ulkret/core/breakdown';
import type { Drill } from '@ulkret/core/drills';
import { type Life, minutesOf, type Terms } from '@ulkret/core/prescription';
import type { WorksOn } from '@ulkret/core/session';

/** As many reps of earlier classes as a class keeps: a test decides within thirty. */
const mostHeld = 60;

/** What is accepted or proposed, as the Mat needs it: with its drill in words, for a device without a network. */
export function worksOn(
  breakdown: Breakdown,
  terms: Terms,
  drills: readonly Drill[],
  life: Pick<Life, 'held' | 'state'> | null = null,
): WorksOn {
  const { checkpoint, rung, cue, startAt, endAt, sides, sets, reps } = terms;
  const drill = drills.find(({ id }) => id === terms.drill);
  return {
    checkpoint,
    rung,
    cue,
    drill: drill ? { title: drill.title, setUp: drill.setUp, task: drill.task } : null,
    startAt,
    endAt,
    sides,
    sets,
    reps,
    minutes: minutesOf(breakdown, terms, drill),
    // All of it: a test that has decided stays decided until a coach accepts something else.
    held: (life?.held ?? []).slice(0, mostHeld),
    ...(life?.state === 'recheck due' && { recheck: true }),
  };
}
