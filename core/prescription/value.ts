import type { Id } from '../breakdown';
import type { DrillKind } from '../drills';
import { logistic, logit } from '../math';
import { type CheckpointReading, type Reading, usualFall } from '../reading';
import type { Rung } from '../rep';

/** A rep teaches most where it holds so often: hard enough to learn, easy enough to repeat (common practice). */
const learningHold = { low: 0.6, high: 0.85 } as const;
/**
 * What it teaches at the wrong rung, of the most that it can: the window is a rule of thumb, and says at which rung to drill
 * rather than what comes first. At 0.65 the choice is that of a judge who knows the truth, and a season still gains by it.
 */
const leastTaught = 0.65;
/** Where it teaches most: the middle of the window. */
export const bestHold = (learningHold.low + learningHold.high) / 2;
const halfWindow = (learningHold.high - learningHold.low) / 2;

/** What a rep teaches that holds so often (0…1), as a share of the most that one can. */
export const taught = (hold: number): number =>
  leastTaught + (1 - leastTaught) * Math.exp(-0.5 * ((hold - bestHold) / halfWindow) ** 2);

/** A value that is only known about: normal. */
export interface Normal {
  mean: number;
  deviation: number;
}

/** A normal belief after normal observations, in closed form: precisions add up. Gelman et al., Bayesian Data Analysis, ch. 2. */
export function believed(prior: Normal, seen: readonly Normal[]): Normal {
  let precision = prior.deviation ** -2;
  let sum = prior.mean * precision;
  for (const { mean, deviation } of seen) {
    precision += deviation ** -2;
    sum += mean * deviation ** -2;
  }
  return { mean: sum / precision, deviation: precision ** -0.5 };
}

/** What a dose of a kind of drill does to the log-odds of breaking, as far as this academy knows. */
export type Falls = ReadonlyMap<DrillKind, Normal>;

/** What a dose is expected to do: a fall, so never above nothing. */
export const fallOf = (kind: DrillKind | null, falls: Falls = new Map()): number =>
  Math.min(0, ((kind && falls.get(kind)) ?? usualFall).mean);

/**
 * How often a rep holds at a root that is drilled for it, at a rung: as far as the place at which what is corrected shows, as
 * its sign-off counts it; or past all that has its root there.
 */
export function drilledHold(
  { atRoot: { shown } }: Pick<CheckpointReading, 'atRoot'>,
  rung: Rung,
  shows?: Id,
): number {
  const to = shown.find(({ at }) => at === shows) ?? shown.at(-1)!;
  return to.held[rung]!;
}

/**
 * The rise of the finish rate if the log-odds of everything rooted at a checkpoint moved by this much, in logits. The
 * shares are added up once, because each checkpoint that may be drilled is asked about many times.
 */
export function risesAt({ checkpoints }: Pick<Reading, 'checkpoints'>, root: Id): (fall: number) => number {
  const hazard = checkpoints.find(({ checkpoint }) => checkpoint === root)!.hazard.value;
  if (hazard <= 0 || hazard >= 1) return () => 0;
  let now = 1;
  const rooted = checkpoints.map(({ hazard: { value }, causes }) => {
    now *= 1 - value;
    let share = 0;
    for (const one of causes) if (one.root === root) share += one.share;
    return { value, share };
  });
  return (fall) => {
    const mended = 1 - logistic(logit(hazard) + fall) / hazard;
    let then = 1;
    for (const { value, share } of rooted) then *= 1 - value * (1 - share * mended);
    return then - now;
  };
}
