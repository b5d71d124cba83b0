import { type Id, otherSide, type Side } from '../breakdown';
import { byTime, type Rep } from '../rep';

/** Two (or a rotating three) who work together, in the order in which they attack. */
export type Pair = readonly Id[];

/** Whose rep is next: who attacks, on whom, on which side, and which of how many it is. */
export interface Turn {
  student: Id;
  partner: Id | null;
  side: Side;
  /** Reps already done in this turn. */
  done: number;
}

/** A turn that somebody has set by hand, and since when. */
export interface SetTurn extends Pick<Turn, 'student' | 'partner' | 'side'> {
  at: string;
  /** The part of the class in which it holds, where turns change with the clock. */
  during: { round: number; half: 'first' | 'second' } | null;
}

/** Do two turns name the same attacker, partner and side? */
export const sameTurn = (a: Turn, b: Turn): boolean =>
  a.student === b.student && a.partner === b.partner && a.side === b.side;

/** The people after an attacker in walking order: the next is the partner, the one after a third waits. */
export const partnerOf = (pair: Pair, student: Id): Id | null =>
  pair.length < 2 ? null : (pair[(pair.indexOf(student) + 1) % pair.length] ?? null);

/** How turns change: after so many reps on a side, or with the clock, which changes sides at half time and roles with the round. */
export type Turning =
  { repsPerSide: number } | { repsPerSide: null; /** From 1. */ round: number; half: 'first' | 'second' };

/** Is a rep of this pair: of a member on another member, or of one alone? */
export const inPair = (pair: Pair, { partner }: Pick<Rep, 'partner'>): boolean =>
  partner === null ? pair.length === 1 : pair.includes(partner);

/**
 * The reps that a pair did together, in order of time: those of a member on another member, or of one alone. A sequence is
 * one of them: what goes on from a rep is no turn of its own.
 */
export const repsOfPair = (pair: Pair, of: (student: Id) => readonly Rep[]): readonly Rep[] =>
  pair.flatMap((student) => of(student).filter((rep) => !rep.follows && inPair(pair, rep))).sort(byTime);

/**
 * The turn of a pair, told from nothing but its reps and the clock: so many on one side, the same on the other, then the
 * roles swap. It is derived, so that a reload and a second device agree. `reps` are the pair's standing reps in order of
 * time. A turn that was `set` by hand holds until reps after it make the next one, whoever looks at which pair meanwhile.
 */
export function turnOf(pair: Pair, reps: readonly Rep[], turning: Turning, set?: SetTurn): Turn {
  const starter = pair[0]!;
  const held = set && pair.includes(set.student) && holds(set, turning) ? set : undefined;
  // Only these count towards the turn: what was done before it was set belongs to another.
  const since = held ? Date.parse(held.at) : -Infinity;
  const inARow = (student: Id, side: Side): number => {
    let n = 0;
    while (n < reps.length) {
      const rep = reps[reps.length - 1 - n]!;
      if (rep.student !== student || rep.side !== side || Date.parse(rep.at) < since) break;
      n++;
    }
    return n;
  };
  if (turning.repsPerSide === null) {
    const student = held?.student ?? pair[(turning.round - 1) % pair.length]!;
    const side = held?.side ?? (turning.half === 'first' ? 'right' : 'left');
    const partner = held ? held.partner : partnerOf(pair, student);
    return { student, partner, side, done: inARow(student, side) };
  }
  const last = reps.findLast(({ at }) => Date.parse(at) >= since);
  if (held && !last) return { student: held.student, partner: held.partner, side: held.side, done: 0 };
  if (!last || !pair.includes(last.student))
    return { student: starter, partner: partnerOf(pair, starter), side: 'right', done: 0 };
  const done = inARow(last.student, last.side);
  if (done < turning.repsPerSide)
    return { student: last.student, partner: last.partner, side: last.side, done };
  const before = reps[reps.length - 1 - done];
  const bothSidesDone = before?.student === last.student && before.side !== last.side;
  if (!bothSidesDone)
    return { student: last.student, partner: last.partner, side: otherSide(last.side), done: 0 };
  const next = pair[(pair.indexOf(last.student) + 1) % pair.length]!;
  return { student: next, partner: partnerOf(pair, next), side: otherSide(last.side), done: 0 };
}

/** By count a turn that was set holds from then on; by the clock, while that half of that round lasts. */
const holds = ({ during }: SetTurn, turning: Turning): boolean =>
  turning.repsPerSide !== null
    ? during === null
    : during !== null && during.round === turning.round && during.half === turning.half;
