import type { Entered, MatState, MatStep, Notice } from './mat-state';
import type { Common, PairView } from './pair-view';
import type { Setting } from './session';
import { type Begun, nothingBegun } from './tapping';
import type { Turn } from './turn';

/** What the steps of the Mat are put together from. */

/** Something to be said; `onMat` counts it. */
export const saying = (words: string, about: string | null, loud = true): Notice => ({
  words,
  about,
  loud,
  nth: 0,
});

/** The state with some of it changed, and facts to enter. */
export const stepTo = (
  state: MatState,
  next: Partial<MatState>,
  enter: readonly Entered[] = [],
): MatStep => ({ state: { ...state, ...next }, enter });

/** A change of the class as a fact to enter. */
export const changing = (set: Setting): Entered => ({ is: 'change', set });

/** Nothing is open, so nothing is logged. */
export const noPair = (state: MatState): MatStep => ({
  state: { ...state, said: saying('Not logged: no pair is open. Tap a pair first.', null) },
  enter: [],
});

/** A turn as the change that sets it. */
export const turnSet = (
  { turning }: Common,
  { members }: PairView,
  { student, partner, side }: Pick<Turn, 'student' | 'partner' | 'side'>,
): Setting => ({
  is: 'turn',
  pair: [...members],
  student,
  partner,
  side,
  during: turning.repsPerSide === null ? { round: turning.round, half: turning.half } : null,
});

/** What is begun, with something else begun on one pair. */
export function withBegun({ begun }: MatState, key: string, next: Begun): MatState['begun'] {
  if (next === (begun.get(key) ?? nothingBegun)) return begun;
  const all = new Map(begun);
  if (next === nothingBegun) all.delete(key);
  else all.set(key, next);
  return all;
}
