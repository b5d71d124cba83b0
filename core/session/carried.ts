import { type Breakdown, doorsOf, type Id, otherSide, type Side } from '../breakdown';
import { byTime, type Rep } from '../rep';
import { inPair, type Pair } from './turn';

/** Where a pair has gone on to, from which rep, and by which exit or answer. */
export interface NextTechnique {
  technique: Id;
  /** The checkpoint at which it is entered; null is the first. */
  from: Id | null;
  side: Side;
  follows: { rep: string; by: Id };
}

/**
 * Where a pair has gone on to; null where it drills the technique of the class. It is told from nothing but the reps, so that a
 * reload and a second device agree: the pair's last one left by a way into another technique. `back` is the rep after which
 * a coach has brought the pair back; `of` tells the reps of a member in order of time, `breakdownOf` the techniques at hand.
 */
export function carriedOf(
  pair: Pair,
  of: (student: Id) => readonly Rep[],
  breakdownOf: (technique: Id) => Breakdown | undefined,
  back?: string,
): NextTechnique | null {
  const last = pair
    .flatMap((student) => of(student).findLast((rep) => inPair(pair, rep)) ?? [])
    .sort(byTime)
    .at(-1);
  if (last?.outcome !== 'left' || last.by === null || last.id === back) return null;
  const { by, id, side } = last;
  const from = breakdownOf(last.technique);
  const door = from && doorsOf(from).find((one) => one.by === by);
  if (!door || !breakdownOf(door.technique)) return null;
  return {
    technique: door.technique,
    from: door.enteredAt,
    side: door.otherSide ? otherSide(side) : side,
    follows: { rep: id, by },
  };
}
