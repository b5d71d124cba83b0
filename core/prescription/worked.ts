import { z } from 'zod';
import type { Breakdown } from '../breakdown';
import type { Drill, DrillKind } from '../drills';
import { betaEstimate, type Estimate } from '../math';
import { fewestReps, notedOfDose, trialsOf, usualFall, versus } from '../reading';
import { later, type Rep } from '../rep';
import type { Life } from './lifecycle';
import { saidAtRoot } from './signoff';
import { believed, type Falls, type Normal } from './value';

/** Days before and after a correction whose reps are compared. */
export const comparedWeeks = 8;
const weekMs = 7 * 86_400_000;
/** Above this chance it is said that it fell; above the other one that it may have. */
export const fellAbove = 0.9;
export const mayHaveFallenAbove = 0.6;

const rate = z.number().min(0).max(1);
const Period = z.object({
  seen: z.int(),
  failed: z.int(),
  hazard: z.object({ value: rate, low: rate, high: rate }),
});

/** What became of a checkpoint after it was prescribed, counted at the root, at the rung agreed or above. */
export const Worked = z.object({
  before: Period,
  after: Period,
  /** The chance that it breaks more seldom; null where either time has fewer than five reps. */
  chance: rate.nullable(),
  /**
   * The expected rate without a correction: it was picked at its worst, and what looks worst by chance improves on its
   * own. The model's hazard when it was accepted; null if not saved.
   */
  untouched: rate.nullable(),
});
export type Worked = z.infer<typeof Worked>;

type Said = readonly { rep: Rep; well: boolean }[];

function period(said: Said): z.infer<typeof Period> {
  const failed = said.filter(({ well }) => !well).length;
  const hazard: Estimate = betaEstimate({ a: 1 + failed, b: 1 + said.length - failed });
  return { seen: said.length, failed, hazard };
}

/** Before and after of one prescription: eight weeks each, from the student's reps on the technique. */
export function workedOf(
  editions: ReadonlyMap<number, Breakdown>,
  { terms, since, stood }: Pick<Life, 'terms' | 'since' | 'stood'>,
  reps: readonly Rep[],
): Worked {
  const said = [...saidAtRoot([...editions.values()], reps, terms)].map(({ rep, held }) => ({
    rep,
    well: held,
  }));
  const [first, last] = [later(since, -comparedWeeks * weekMs), later(since, comparedWeeks * weekMs)];
  const earlier = said.filter(({ rep }) => first <= rep.at && rep.at <= since);
  const following = said.filter(({ rep }) => since < rep.at && rep.at <= last);
  const [before, after] = [period(earlier), period(following)];
  const enough = before.seen >= fewestReps && after.seen >= fewestReps;
  return {
    before,
    after,
    chance: enough ? versus([...trialsOf(following, 'a'), ...trialsOf(earlier, 'b')]).chance : null,
    untouched: stood ? stood.hazard.value : null,
  };
}

/** The result of several corrections together: how many are known, how many worked, and the mean fall. */
export const Tells = z.object({
  prescriptions: z.int(),
  /** Of these, those with enough reps before and after. */
  known: z.int(),
  fell: z.int(),
  before: Period,
  after: Period,
  untouched: rate.nullable(),
});
export type Tells = z.infer<typeof Tells>;

/** Several outcomes as one: their reps summed, and what would have been seen anyway, weighed by the reps after. */
export function together(list: readonly Worked[]): Tells {
  const known = list.filter(({ chance }) => chance !== null);
  const sum = (of: 'before' | 'after') => {
    const [seen, failed] = known.reduce(
      ([n, f], one) => [n + one[of].seen, f + one[of].failed] as [number, number],
      [0, 0] as [number, number],
    );
    return { seen, failed, hazard: betaEstimate({ a: 1 + failed, b: 1 + seen - failed }) };
  };
  const stood = known.filter(({ untouched }) => untouched !== null);
  const reps = stood.reduce((total, { after }) => total + after.seen, 0);
  return {
    prescriptions: list.length,
    known: known.length,
    fell: known.filter(({ chance }) => chance! >= fellAbove).length,
    before: sum('before'),
    after: sum('after'),
    untouched:
      reps === 0 ? null : stood.reduce((total, one) => total + one.untouched! * one.after.seen, 0) / reps,
  };
}

/** A half rep of either kind, so that none is 0 of 0; the variance of log-odds of counts (Agresti, Categorical Data Analysis, ch. 3). */
const logOdds = ({ seen, failed }: Pick<z.infer<typeof Period>, 'seen' | 'failed'>): Normal => ({
  mean: Math.log((failed + 0.5) / (seen - failed + 0.5)),
  deviation: Math.sqrt(1 / (failed + 0.5) + 1 / (seen - failed + 0.5)),
});

/**
 * What a dose of each kind of drill does here, from this academy's own before and after: the change of the log-odds from what
 * the model expected of an untouched checkpoint to what was seen after, a dose.
 */
export function fallsFrom(
  outcomes: readonly { life: Pick<Life, 'terms' | 'held' | 'stood'>; worked: Worked }[],
  drills: readonly Drill[],
): Falls {
  const seen = new Map<DrillKind, Normal[]>();
  for (const { life, worked } of outcomes) {
    const kind = drills.find(({ id }) => id === life.terms.drill)?.kind;
    if (!kind || worked.chance === null || !life.stood) continue;
    const { value, low, high } = life.stood.hazard;
    const bounded = (x: number) => Math.log(x / (1 - x));
    const expected: Normal = {
      mean: bounded(Math.min(0.99, Math.max(0.01, value))),
      deviation: Math.max(
        0.05,
        (bounded(Math.min(0.999, Math.max(0.002, high))) - bounded(Math.min(0.998, Math.max(0.001, low)))) /
          (2 * 1.2816),
      ),
    };
    const after = logOdds(worked.after);
    // On average half of the doses lie before the reps that are counted after.
    const doses = Math.max(0.5, life.held.length / notedOfDose / 2);
    const one: Normal = {
      mean: (after.mean - expected.mean) / doses,
      deviation: Math.hypot(after.deviation, expected.deviation) / doses,
    };
    seen.set(kind, [...(seen.get(kind) ?? []), one]);
  }
  return new Map([...seen].map(([kind, list]) => [kind, believed(usualFall, list)]));
}
