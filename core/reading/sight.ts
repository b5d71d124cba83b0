import type { Id } from '../breakdown';
import { type Beta, betaEstimate, type Estimate } from '../math';
import type { Slice } from './reading';
import type { Tallied } from './tallied';

/** What a fixed checkpoint breaks at where the squad is too small to say lies within these: common practice. */
export const smallSquadTarget = { low: 0.1, high: 0.15 } as const;
/** An 80 % interval at most this wide is enough to act on… */
export const enoughWidth = 0.25;
/** …once a student has this many reps of their own there, more than the squad's rate is worth. */
export const fewestReps = 5;
/** The hold rate at which a rung counts as held. */
export const holdsAt = 0.75;
/** P(one side, or a heavier partner, is worse) above which it is said, and both sides are prescribed. */
export const sideGapAbove = 0.9;
/** Seeded draws for products of hazards. */
export const drawCount = 400;

/** Fewest reps on either side, or with either kind of partner, for a gap to be shown. */
export const reachedForGap = 5;

/** How a method sees one student at one checkpoint. Rates are hazards unless they are called held. */
export interface Sight {
  hazard: Estimate;
  /** Hazards, `drawCount` of them; the n-th of every checkpoint of a student belong together. */
  draws: Float64Array;
  /** A Beta of equal width, used to predict the interval after more reps. */
  beta: Beta;
  heldAt: (condition: Partial<Slice>) => Estimate;
  sideGap: number | null;
  massGap: number | null;
}

/** A way of seeing a student: a sight at each checkpoint of the breakdown, in its order. */
export type Eye = (student: Id, tallied: Tallied) => Sight[];

/** About how many more reps that reach a checkpoint bring its expected interval under `enoughWidth`; 0 where it is there. */
export function moreNeeded({ a, b }: Beta): number {
  const mean = a / (a + b);
  const wide = (more: number): boolean => {
    const { low, high } = betaEstimate({ a: a + more * mean, b: b + more * (1 - mean) });
    return high - low > enoughWidth;
  };
  if (!wide(0)) return 0;
  let below = 0;
  let above = 1;
  while (wide(above)) [below, above] = [above, above * 2];
  while (above - below > 1) {
    const middle = (below + above) >> 1;
    if (wide(middle)) below = middle;
    else above = middle;
  }
  return above;
}

/** The mean of a list that is not empty. */
export const mean = (list: readonly number[]): number => list.reduce((sum, x) => sum + x, 0) / list.length;
