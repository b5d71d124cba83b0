import type { Breakdown } from '@ulkret/core/breakdown';
import type { Drill } from '@ulkret/core/drills';
import { cautionsOf, type Life, minutesOf, ownDrillOf, type Terms } from '@ulkret/core/prescription';
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
  const { checkpoint, mistake, defence, proof, rung, cue, startAt, endAt, sides, sets, reps } = terms;
  const drill = drills.find(({ id }) => id === terms.drill);
  const played = breakdown.defences.find(({ id }) => id === defence);
  // The Mat knows the two bodies, and adds the caution of their variant.
  const cautions = cautionsOf(breakdown, checkpoint, { drill, ways: [] });
  const own = drill ? null : ownDrillOf(breakdown, mistake, drills);
  return {
    checkpoint,
    mistake,
    defence,
    ...(proof && { proof }),
    rung,
    cue,
    drill: drill
      ? { title: drill.title, setUp: drill.setUp, task: played?.task || drill.task }
      : own === null
        ? null
        : { title: own.slice(0, 80), setUp: own.slice(80, 480), task: played?.task ?? '' },
    ...(cautions.length > 0 && { cautions }),
    startAt,
    endAt,
    sides,
    sets,
    reps,
    minutes: minutesOf(terms, drill),
    // All of it: a test that has decided stays decided until a coach accepts something else.
    held: (life?.held ?? []).slice(0, mostHeld),
    ...(life?.state === 'recheck due' && { recheck: true }),
  };
}
