import type { Id } from '../breakdown';
import { type Estimate, logit, normalCdf, normalQuantile, tails } from '../math';
import { reachedForGap } from './sight';
import type { CheckpointReading, Reading } from './reading';

/** One checkpoint in two readings of the same student: before and after, right and left, rung against rung. */
export interface Comparison {
  checkpoint: Id;
  first: CheckpointReading;
  second: CheckpointReading;
  /** P(the hazard is lower in the second); null where either was reached fewer than five times. */
  fell: number | null;
}

const inside = (rate: number): number => Math.min(1 - 1e-6, Math.max(1e-6, rate));

/** Middle and standard deviation of an estimate on the logit scale, on which its 80 % interval is taken as that of a normal. */
function onLogitScale({ value, low, high }: Estimate) {
  const width = normalQuantile(tails.high) - normalQuantile(tails.low);
  return { mean: logit(inside(value)), deviation: (logit(inside(high)) - logit(inside(low))) / width };
}

/** P(the second rate is lower than the first), the two being independent. */
export function chanceLower(first: Estimate, second: Estimate): number {
  const [a, b] = [onLogitScale(first), onLogitScale(second)];
  return normalCdf((a.mean - b.mean) / Math.hypot(a.deviation, b.deviation));
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
      fell: enough ? chanceLower(one.hazard, other.hazard) : null,
    };
  });
