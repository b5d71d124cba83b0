import { type Breakdown, type Id, placeOf } from '../breakdown';
import { teaches } from '../prescription';
import type { Rep } from '../rep';
import { observingRoot } from '../rep';
import type { WatchedStudent } from './session';

/**
 * Of the students whose turn it is, the one whose next rep is expected to teach most, given the reps of the class;
 * null if nobody's would. Each tap lowers a student's value a little, so the mark moves on.
 */
export function watchNext(
  breakdown: Breakdown,
  watched: readonly WatchedStudent[],
  turns: readonly Id[],
  repsOf: (student: Id) => readonly Rep[],
): WatchedStudent | null {
  let best: WatchedStudent | null = null;
  let most = 0;
  for (const one of watched) {
    if (!turns.includes(one.student)) continue;
    const place = placeOf(breakdown, one.checkpoint);
    const since = repsOf(one.student).filter(
      (rep) => rep.technique === breakdown.technique && observingRoot(breakdown, rep)(place) !== 'not seen',
    ).length;
    const worth = teaches(one, since);
    if (worth > most) [best, most] = [one, worth];
  }
  return best;
}
