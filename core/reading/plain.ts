import { type Breakdown, causesAt, type Id, otherSide, type Side } from '../breakdown';
import { type Beta, betaDraws, betaEstimate, type Estimate, fromDraws, quantile, wilson } from '../math';
import { type Rep, type Rung, rungs } from '../rep';
import { finishOdds, gain, leaks, survival } from './survival';
import { count, type Editions, emptyTally, observations, type Tally, weightOf } from './tally';

/** Days after which a rep counts half. */
export const defaultHalfLifeDays = 28;
/** Reps that the squad's rate is worth in a student's estimate, and the general rate in the squad's. */
export const priorWeight = 4;
/** The rate a checkpoint is thought to break at before anybody has tried it: logistic(−1.4), the prior of the full model. */
export const generalHazard = 1 / (1 + Math.exp(1.4));
/** What a mended checkpoint breaks at where the squad is too small to say. */
export const smallSquadTarget = 0.05;
/** An 80 % interval at most this wide is enough to act on… */
export const enoughWidth = 0.25;
/** …once a student has more reps there of their own than the squad's rate stands for. */
export const fewestReps = priorWeight + 1;

const draws = 400;
const squadForQuartile = { students: 8, reachedEach: 8 };
const reachedForSideGap = 5;

/** What the reps of one student (or the squad) say about one checkpoint. */
export interface CheckpointReading {
  checkpoint: Id;
  /** Reps that reached it: the n of the hazard. */
  reached: number;
  failed: number;
  /** P(stop here | reached), mean and 80 % interval of the posterior. */
  hazard: Estimate;
  /** Share of all reps that get as far as this checkpoint. */
  survivalBefore: number;
  /** Share of all reps lost here. Leaks and finish odds sum to 1. */
  leak: Estimate;
  /** What finish odds would rise by if the hazard fell to `target`. */
  gain: Estimate;
  target: number;
  /** The stops split by what ended them, mistakes first; an untagged remainder last. */
  causes: CauseShare[];
  /** Is the interval narrow enough to act on? If not, about how many more reps that reach it would make it so? */
  enough: boolean;
  moreNeeded: number;
  /** Hold rate rung by rung, for the rungs that were tried. */
  byRung: RungReading[];
  /** P(the off side breaks more often); null where either side was reached fewer than five times. */
  sideGap: number | null;
}

export interface CauseShare {
  cause: Id | null;
  kind: 'mistake' | 'defence' | 'unknown';
  stops: number;
}

export interface RungReading {
  rung: Rung;
  reached: number;
  failed: number;
  held: Estimate;
}

/** The plain reading of one student on one technique, or of the whole squad where `student` is null. */
export interface Reading {
  student: Id | null;
  /** Reps that counted: the n of the finish. */
  reps: number;
  finished: number;
  /** Share of judged whole reps that finished, as counted; null where there is none. */
  finishedShare: Estimate | null;
  /** The product of all hold rates, with its interval from seeded draws. */
  finishOdds: Estimate;
  checkpoints: CheckpointReading[];
}

/** Readings of everybody who has a rep on the technique, and of the squad as one. */
export interface SquadReading {
  technique: Id;
  edition: number;
  asOf: string;
  halfLifeDays: number;
  rung: Rung | null;
  side: Side | null;
  squad: Reading;
  students: Reading[];
}

export interface PlainQuestion {
  /** The edition whose checkpoints are read; reps on others count at the checkpoints they share. */
  breakdown: Breakdown;
  editions: Editions;
  /** Standing reps on this technique, in any order. */
  reps: readonly Rep[];
  /** ISO instant; later reps are left out. */
  asOf: string;
  rung?: Rung | null;
  side?: Side | null;
  halfLifeDays?: number;
  /** Everybody's main side; where it is missing, right. */
  mainSides?: ReadonlyMap<Id, Side>;
}

/** The posterior of a hazard after weighted counts, with a prior rate worth `priorWeight` reps. */
export const posterior = (tally: Pick<Tally, 'weightReached' | 'weightFailed'>, priorRate: number): Beta => ({
  a: priorWeight * priorRate + tally.weightFailed,
  b: priorWeight * (1 - priorRate) + tally.weightReached - tally.weightFailed,
});

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

/** One person's (or the squad's) tallies: over everything asked about, per rung, and per side. */
class Ledger {
  reps = 0;
  finished = 0;
  judged = 0;
  readonly all = new Map<Id, Tally>();
  readonly rung = new Map<string, Tally>();
  readonly side = new Map<string, Tally>();

  static at<K>(map: Map<K, Tally>, key: K): Tally {
    let tally = map.get(key);
    if (!tally) map.set(key, (tally = emptyTally()));
    return tally;
  }
}

const rungKey = (checkpoint: Id, rung: Rung) => `${checkpoint} ${rung}`;
const sideKey = (checkpoint: Id, side: Side) => `${checkpoint} ${side}`;

/**
 * The instant reading of one technique: decayed counts, Beta posteriors around the squad's rate, survival, leaks and gains.
 * Deterministic: the same question gives the same answer, whatever the order of the reps.
 */
export function plainReading(question: PlainQuestion): SquadReading {
  const { breakdown, editions, asOf, rung = null, side = null } = question;
  const halfLifeDays = question.halfLifeDays ?? defaultHalfLifeDays;
  const squad = new Ledger();
  const ledgers = new Map<Id, Ledger>();
  const ledgerOf = (student: Id): Ledger => {
    let ledger = ledgers.get(student);
    if (!ledger) ledgers.set(student, (ledger = new Ledger()));
    return ledger;
  };

  const inTime = question.reps
    .filter((rep) => Date.parse(rep.at) <= Date.parse(asOf) && editions.has(rep.edition))
    .sort((a, b) => (a.id < b.id ? -1 : 1));
  for (const rep of inTime)
    if ((rung === null || rep.rung === rung) && (side === null || rep.side === side))
      for (const ledger of [squad, ledgerOf(rep.student)]) {
        ledger.reps += 1;
        const whole = rep.from === null && rep.to === null;
        if (whole && rep.outcome !== 'not judged') ledger.judged += 1;
        if (whole && (rep.outcome === 'finished' || rep.outcome === 'forced')) ledger.finished += 1;
      }
  for (const { rep, checkpoint, observation } of observations(editions, inTime)) {
    if (observation === 'not seen') continue;
    const weight = weightOf(rep.at, asOf, halfLifeDays);
    const failed = observation === 'failed';
    const onSide = side === null || rep.side === side;
    const onRung = rung === null || rep.rung === rung;
    for (const ledger of [squad, ledgerOf(rep.student)]) {
      if (onSide) count(Ledger.at(ledger.rung, rungKey(checkpoint, rep.rung)), rep, failed, weight);
      if (onRung) count(Ledger.at(ledger.side, sideKey(checkpoint, rep.side)), rep, failed, weight);
      if (onSide && onRung) count(Ledger.at(ledger.all, checkpoint), rep, failed, weight);
    }
  }

  const rate = (map: Map<string, Tally>, key: string): number => {
    const { a, b } = posterior(map.get(key) ?? emptyTally(), generalHazard);
    return a / (a + b);
  };
  const ids = breakdown.checkpoints.map(({ id }) => id);
  const squadBetas = ids.map((id) => posterior(squad.all.get(id) ?? emptyTally(), generalHazard));
  const betasOf = (ledger: Ledger): Beta[] =>
    ids.map((id, i) => {
      const { a, b } = squadBetas[i]!;
      return posterior(ledger.all.get(id) ?? emptyTally(), a / (a + b));
    });
  const targets = ids.map((id) => bestQuartile(id, ledgers, betasOf, ids));

  const readingOf = (student: Id | null, ledger: Ledger, betas: Beta[]): Reading => {
    const estimates = betas.map(betaEstimate);
    const hazards = estimates.map(({ value }) => value);
    const drawn = betaDraws(betas, draws, seedOf(student ?? 'squad'));
    const before = survival(hazards);
    const lost = leaks(hazards);
    const drawnLeaks = drawn.map(leaks);
    const mainSide = (student && question.mainSides?.get(student)) || 'right';
    return {
      student,
      reps: ledger.reps,
      finished: ledger.finished,
      finishedShare: ledger.judged > 0 ? wilson(ledger.finished, ledger.judged) : null,
      finishOdds: fromDraws(finishOdds(hazards), drawn.map(finishOdds)),
      checkpoints: ids.map((id, i): CheckpointReading => {
        const tally = ledger.all.get(id) ?? emptyTally();
        const target = targets[i]!;
        const more = Math.max(moreNeeded(betas[i]!), fewestReps - tally.reached, 0);
        return {
          checkpoint: id,
          reached: tally.reached,
          failed: tally.failed,
          hazard: estimates[i]!,
          survivalBefore: before[i]!,
          leak: fromDraws(
            lost[i]!,
            drawnLeaks.map((leak) => leak[i]!),
          ),
          gain: fromDraws(
            gain(hazards, i, target),
            drawn.map((one) => gain(one, i, target)),
          ),
          target,
          causes: causeShares(breakdown, id, tally),
          enough: more === 0,
          moreNeeded: more,
          byRung: rungs.flatMap((r): RungReading[] => {
            const at = ledger.rung.get(rungKey(id, r));
            if (!at) return [];
            const { a, b } = posterior(at, student ? rate(squad.rung, rungKey(id, r)) : generalHazard);
            return [{ rung: r, reached: at.reached, failed: at.failed, held: betaEstimate({ a: b, b: a }) }];
          }),
          sideGap: student ? sideGapOf(ledger, squad, id, mainSide, rate) : null,
        };
      }),
    };
  };

  return {
    technique: breakdown.technique,
    edition: breakdown.edition,
    asOf,
    halfLifeDays,
    rung,
    side,
    squad: readingOf(null, squad, squadBetas),
    students: [...ledgers]
      .filter(([, ledger]) => ledger.reps > 0)
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([student, ledger]) => readingOf(student, ledger, betasOf(ledger))),
  };
}

/** The hazard that the squad's best quarter has at a checkpoint, or the small squad's target. */
function bestQuartile(
  id: Id,
  ledgers: ReadonlyMap<Id, Ledger>,
  betasOf: (ledger: Ledger) => Beta[],
  ids: readonly Id[],
): number {
  const known = [...ledgers.values()].filter(
    (ledger) => (ledger.all.get(id)?.reached ?? 0) >= squadForQuartile.reachedEach,
  );
  if (known.length < squadForQuartile.students) return smallSquadTarget;
  const place = ids.indexOf(id);
  const hazards = known.map((ledger) => betaEstimate(betasOf(ledger)[place]!).value).sort((a, b) => a - b);
  return quantile(hazards, 0.25);
}

/** P(the off side breaks more often), from as many draws of both sides. */
function sideGapOf(
  ledger: Ledger,
  squad: Ledger,
  id: Id,
  mainSide: Side,
  rate: (map: Map<string, Tally>, key: string) => number,
): number | null {
  const sides = [mainSide, otherSide(mainSide)].map((side) => ({
    tally: ledger.side.get(sideKey(id, side)),
    prior: rate(squad.side, sideKey(id, side)),
  }));
  if (sides.some(({ tally }) => (tally?.reached ?? 0) < reachedForSideGap)) return null;
  const drawn = betaDraws(
    sides.map(({ tally, prior }) => posterior(tally!, prior)),
    draws,
    seedOf(id),
  );
  return drawn.filter(([main, off]) => off! > main!).length / draws;
}

function causeShares(breakdown: Breakdown, checkpoint: Id, tally: Tally): CauseShare[] {
  const known = causesAt(breakdown, checkpoint);
  const shares = known.map(({ id, kind }): CauseShare => ({
    cause: id,
    kind,
    stops: tally.causes.get(id) ?? 0,
  }));
  const unknown = tally.failed - shares.reduce((sum, { stops }) => sum + stops, 0);
  return [
    ...shares.filter(({ stops }) => stops > 0),
    ...(unknown > 0 ? [{ cause: null, kind: 'unknown' as const, stops: unknown }] : []),
  ];
}

/** A seed in 0…1 that a name always gives (FNV-1a). */
function seedOf(name: string): number {
  let hash = 0x811c9dc5;
  for (let i = 0; i < name.length; i++) hash = Math.imul(hash ^ name.charCodeAt(i), 0x01000193);
  return (hash >>> 0) / 2 ** 32;
}
