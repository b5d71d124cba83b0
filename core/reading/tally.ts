import type { Breakdown, Id } from '../breakdown';
import { observe, type Observation, type Rep } from '../rep';

/** Every published edition of one technique, by its number. */
export type Editions = ReadonlyMap<number, Breakdown>;

/** How often a checkpoint was reached and how often it broke; with and without the weight of age. */
export interface Tally {
  /** Reps that reached the checkpoint: the n of its hazard. */
  reached: number;
  failed: number;
  weightReached: number;
  weightFailed: number;
  /** Stops by their cause; an untagged one is under null. */
  causes: Map<Id | null, number>;
}

export const emptyTally = (): Tally => ({
  reached: 0,
  failed: 0,
  weightReached: 0,
  weightFailed: 0,
  causes: new Map(),
});

const dayMs = 86_400_000;

/** Weight of a rep of an age: 2^(−age / half-life). A rep from a clock that runs ahead counts as new. */
export const weightOf = (at: string, asOf: string, halfLifeDays: number): number =>
  2 ** (-Math.max(0, (Date.parse(asOf) - Date.parse(at)) / dayMs) / halfLifeDays);

/** What each rep says about each checkpoint, judged by the edition it was logged against. Reps of unknown editions are left out. */
export function* observations(
  editions: Editions,
  reps: Iterable<Rep>,
): Generator<{ rep: Rep; checkpoint: Id; observation: Observation }> {
  for (const rep of reps) {
    const edition = editions.get(rep.edition);
    if (!edition) continue;
    for (const [checkpoint, observation] of observe(edition, rep)) yield { rep, checkpoint, observation };
  }
}

/** Adds one rep that reached the checkpoint to its tally. */
export function count(tally: Tally, rep: Rep, failed: boolean, weight: number): void {
  tally.reached += 1;
  tally.weightReached += weight;
  if (!failed) return;
  tally.failed += 1;
  tally.weightFailed += weight;
  tally.causes.set(rep.cause, (tally.causes.get(rep.cause) ?? 0) + 1);
}

/** Adds another tally to a total, in place. */
export function add(total: Tally, other: Tally): void {
  total.reached += other.reached;
  total.failed += other.failed;
  total.weightReached += other.weightReached;
  total.weightFailed += other.weightFailed;
  for (const [cause, stops] of other.causes) total.causes.set(cause, (total.causes.get(cause) ?? 0) + stops);
}
