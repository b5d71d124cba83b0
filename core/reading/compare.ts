import type { Id } from '../breakdown';
import { reachedForGap } from './sight';
import type { CheckpointReading, Reading } from './reading';
import { type Trial, versus } from './versus';

/** One checkpoint in two readings of the same student: before and after, right and left, rung against rung. */
export interface Comparison {
  checkpoint: Id;
  first: CheckpointReading;
  second: CheckpointReading;
  /** P(it breaks less often in the second), from the counts alone; null where either was reached fewer than five times. */
  fell: number | null;
}

/** Counts at each rung if both were drilled at some of the same rungs; else all counts, for the rung is what is compared. */
function trialsOf(first: CheckpointReading, second: CheckpointReading): Trial[] {
  const alike = first.byRung.some(({ rung }) => second.byRung.some((other) => other.rung === rung));
  return [first, second].flatMap((one, i) =>
    (alike ? one.byRung : [{ ...one, rung: undefined }]).map(({ rung, reached, failed }) => ({
      student: 'the same',
      of: i === 0 ? ('a' as const) : ('b' as const),
      held: reached - failed,
      n: reached,
      rung,
    })),
  );
}

/** Lays two readings of the same breakdown side by side. */
export const compare = (first: Reading, second: Reading): Comparison[] =>
  first.checkpoints.map((one, i) => {
    const other = second.checkpoints[i]!;
    const enough = Math.min(one.reached, other.reached) >= reachedForGap;
    return {
      checkpoint: one.checkpoint,
      first: one,
      second: other,
      fell: enough ? 1 - versus(trialsOf(one, other)).chance : null,
    };
  });
