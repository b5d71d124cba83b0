import { z } from 'zod';
import { Id } from '../breakdown';
import { type Beta, betaEstimate, type Estimate } from '../math';
import { byTime, Rep } from '../rep';
import { type Trial, versus } from './versus';

/** The latest reps that a number is made of, and whether each went well. */
export const Behind = z.array(z.object({ rep: Rep, well: z.boolean() }));
export type Behind = z.infer<typeof Behind>;

/** Of the two that look best, how sure it is that `first` does better than `second`: at least an even chance. */
export const Better = z.object({ first: Id, second: Id, chance: z.number().min(0.5).max(1) });
export type Better = z.infer<typeof Better>;

/** What a rate is thought to be before anybody has tried: two of four. */
const prior: Beta = { a: 2, b: 2 };
export const rate = (well: number, all: number): Estimate =>
  betaEstimate({ a: prior.a + well, b: prior.b + all - well });

/** Fewer reps of either than this are not compared. */
export const reachedForBetter = 5;
const listed = 30;
/** Adds one to a list in a map. */
export function push<K>(lists: Map<K, Behind>, key: K, one: Behind[number]): void {
  const list = lists.get(key);
  if (list) list.push(one);
  else lists.set(key, [one]);
}

export const latest = (behind: Behind): Behind =>
  [...behind].sort((a, b) => byTime(b.rep, a.rep)).slice(0, listed);

/** Reps and whether each went well, of each student. */
export const byStudent = (behind: Behind) => {
  const counts = new Map<Id, { well: number; all: number }>();
  for (const { rep, well } of behind) {
    const one = counts.get(rep.student) ?? { well: 0, all: 0 };
    counts.set(rep.student, { well: one.well + Number(well), all: one.all + 1 });
  }
  return counts;
};

/** Reps and whether each went well, as trials of one of the two that are compared. */
export const trialsOf = (behind: readonly Behind[number][], of: 'a' | 'b'): Trial[] =>
  behind.map(({ rep: { student, rung, side }, well }) => ({
    student,
    of,
    rung,
    side,
    held: Number(well),
    n: 1,
  }));

/** An 80 % interval of a rate that is wider than this says too little to compare. */
const wideToTell = 0.5;

/** P(the first does better than the second); null if too little is known of either. */
export function chanceBetter(first: Behind, second: Behind): number | null {
  const { chance, a, b } = versus([...trialsOf(first, 'a'), ...trialsOf(second, 'b')]);
  return Math.max(a.high - a.low, b.high - b.low) > wideToTell ? null : chance;
}

export const wellIn = (behind: Behind): number => behind.filter(({ well }) => well).length;

/** Compares the two that look best of those with enough reps. The likelier one is first, which need not be the one with more reps. */
export function betterOf(lists: Iterable<readonly [Id | null, Behind]>): Better | null {
  const [one, other] = [...lists]
    .flatMap(([id, behind]) =>
      id === null || behind.length < reachedForBetter
        ? []
        : [{ id, behind, value: rate(wellIn(behind), behind.length).value }],
    )
    .sort((a, b) => b.value - a.value);
  const chance = one && other ? chanceBetter(one.behind, other.behind) : null;
  if (chance === null) return null;
  const [first, second] = chance < 0.5 ? [other!.id, one!.id] : [one!.id, other!.id];
  return { first, second, chance: Math.max(chance, 1 - chance) };
}
