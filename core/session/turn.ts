import { z } from 'zod';
import { type Id, otherSide, type Side } from '../breakdown';
import { byTime, type Rep } from '../rep';

/** Which sides a pair drills: both in turn, one alone, or either at random. */
export const Sides = z.enum(['both', 'right', 'left', 'random']);
export type Sides = z.infer<typeof Sides>;

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

/** A pair whatever the order of its members. */
export const pairKey = (pair: Pair): string => [...pair].sort().join(' ');

/** Do two turns name the same attacker, partner and side? */
export const sameTurn = (a: Turn, b: Turn): boolean =>
  a.student === b.student && a.partner === b.partner && a.side === b.side;

/** The people after an attacker in walking order: the next is the partner, the one after a third waits. */
export const partnerOf = (pair: Pair, student: Id): Id | null =>
  pair.length < 2 ? null : (pair[(pair.indexOf(student) + 1) % pair.length] ?? null);

/**
 * How turns change: after this many reps on a side, or with the clock, which changes sides at half time and roles with
 * the round.
 */
export type Turning =
  { repsPerSide: number } | { repsPerSide: null; /** From 1. */ round: number; half: 'first' | 'second' };

/** Is a rep of a member this pair's: on another member, of one alone, or at the rung where everybody drills alone? */
export const inPair = (pair: Pair, { partner, rung }: Pick<Rep, 'partner' | 'rung'>): boolean =>
  partner === null ? pair.length === 1 || rung === 0 : pair.includes(partner);

/**
 * The reps that a pair did together, in order of time: those of a member on another member, or of one alone. A sequence is
 * one of them: what goes on from a rep is no turn of its own.
 */
export const repsOfPair = (pair: Pair, of: (student: Id) => readonly Rep[]): readonly Rep[] =>
  pair.flatMap((student) => of(student).filter((rep) => !rep.follows && inPair(pair, rep))).sort(byTime);

/**
 * Whose turn it is in a pair, from its reps and the clock: a number of reps on one side, as many on the other, then the roles
 * swap. It is derived, so that a reload and a second device agree. `reps` are the pair's standing reps in order of time. A turn
 * that a coach `set` by hand holds until the reps after it make the next one. `sides` may ask for one side alone, or for a side at
 * random, which is drawn from the id of the rep before: every device draws the same.
 */
export function turnOf(
  pair: Pair,
  reps: readonly Rep[],
  turning: Turning,
  set?: SetTurn,
  sides: Sides = 'both',
): Turn {
  const held = set && pair.includes(set.student) && holds(set, turning) ? set : undefined;
  // Only these count towards the turn: what was done before it was set belongs to another.
  const since = held ? Date.parse(held.at) : null;
  const counted = since === null ? reps : reps.filter(({ at }) => Date.parse(at) >= since);
  const turn =
    turning.repsPerSide === null
      ? byTheClock(pair, counted, turning, held)
      : byCount(pair, reps, counted, turning.repsPerSide, held, sides);
  if (sides === 'both') return turn;
  // By hand a coach may still ask for the other side once.
  if (held && counted.length === 0) return turn;
  return { ...turn, side: sides === 'random' ? drawn(reps.at(-1)?.id ?? pairKey(pair)) : sides };
}

/** How many of the last reps were this student's, on this side or on either. */
function inARow(reps: readonly Rep[], student: Id, side: Side | null): number {
  const last = reps.findLastIndex((rep) => rep.student !== student || (side !== null && rep.side !== side));
  return reps.length - 1 - last;
}

function byTheClock(
  pair: Pair,
  reps: readonly Rep[],
  { round, half }: Extract<Turning, { repsPerSide: null }>,
  held: SetTurn | undefined,
): Turn {
  const student = held?.student ?? pair[(round - 1) % pair.length]!;
  const side = held?.side ?? (half === 'first' ? 'right' : 'left');
  const partner = held ? held.partner : partnerOf(pair, student);
  return { student, partner, side, done: inARow(reps, student, side) };
}

function byCount(
  pair: Pair,
  reps: readonly Rep[],
  counted: readonly Rep[],
  repsPerSide: number,
  held: SetTurn | undefined,
  sides: Sides,
): Turn {
  const last = counted.at(-1);
  if (held && !last) return { student: held.student, partner: held.partner, side: held.side, done: 0 };
  const starter = pair[0]!;
  if (!last || !pair.includes(last.student))
    return { student: starter, partner: partnerOf(pair, starter), side: 'right', done: 0 };
  const { student, side } = last;
  const partner = last.partner ?? partnerOf(pair, student);
  const next = pair[(pair.indexOf(student) + 1) % pair.length]!;
  const swapped = { student: next, partner: partnerOf(pair, next), side: otherSide(side), done: 0 };
  if (sides !== 'both') {
    // One side, or either at random: the roles swap after as many as were asked for.
    const done = inARow(counted, student, null);
    const asked = sides === 'random' ? 2 * repsPerSide : repsPerSide;
    return done < asked ? { student, partner, side, done } : swapped;
  }
  const done = inARow(counted, student, side);
  if (done < repsPerSide) return { student, partner, side, done };
  const before = reps[reps.length - 1 - done];
  const bothSidesDone = before?.student === student && before.side !== side;
  return bothSidesDone ? swapped : { student, partner, side: otherSide(side), done: 0 };
}

/** A side that a text always gives, and that is the right one for half of all texts (FNV-1a, 32 bits). */
function drawn(text: string): Side {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return ((hash ^ (hash >>> 15)) & 1) === 0 ? 'right' : 'left';
}

/** By count a turn that was set holds from then on; by the clock, while that half of that round lasts. */
const holds = ({ during }: SetTurn, turning: Turning): boolean =>
  turning.repsPerSide !== null
    ? during === null
    : during !== null && during.round === turning.round && during.half === turning.half;
