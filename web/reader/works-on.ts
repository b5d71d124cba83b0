import type { Drill } from '@ulkret/core/drills';
import { type Life, signOff, type Terms } from '@ulkret/core/prescription';
import type { WorksOn } from '@ulkret/core/session';

/** What is agreed or proposed, as the Mat needs it: with its drill in words, for whoever has no network. */
export function worksOn(
  { checkpoint, rung, cue, drill: id, startAt, endAt }: Terms,
  drills: readonly Drill[],
  held: readonly boolean[] = [],
): WorksOn {
  const drill = drills.find((one) => one.id === id);
  return {
    checkpoint,
    rung,
    cue,
    drill: drill ? { title: drill.title, setUp: drill.setUp, task: drill.task } : null,
    startAt,
    endAt,
    held: [...held],
  };
}

/** What the reps so far say of a correction. A test that has decided begins anew: it is for the coach to agree to something else. */
export const heldSoFar = ({ held }: Life): readonly boolean[] => (signOff(held).state === 'open' ? held : []);
