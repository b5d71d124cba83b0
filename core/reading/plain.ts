import { type Breakdown, causesAt, type Id, otherSide, type Side } from '../breakdown';
import { type Beta, betaDraws, betaEstimate, fromDraws, quantile, wilson } from '../math';
import { observe, type Rep, type Rung, rungs } from '../rep';
import type { CauseShare, CheckpointReading, Reading, RungReading, SquadReading } from './reading';
import { finishOdds, gain, leaks, survival } from './survival';
import { add, count, type Editions, emptyTally, type Tally, weightOf } from './tally';

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

const meanOf = ({ a, b }: Beta): number => a / (a + b);

/** About how many more reps that reach a checkpoint bring its expected interval under `enoughWidth`; 0 where it is there. */
export function moreNeeded({ a, b }: Beta): number {
  const mean = meanOf({ a, b });
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

interface Slice {
  rung: Rung | null;
  side: Side | null;
}

/** One person's (or the squad's) tallies, one a checkpoint, rung and side; any slice is a sum of them. */
class Ledger {
  reps = 0;
  finished = 0;
  judged = 0;
  private readonly cells = new Map<Id, Map<string, Slice & { tally: Tally }>>();

  add(checkpoint: Id, rep: Rep, failed: boolean, weight: number): void {
    let cells = this.cells.get(checkpoint);
    if (!cells) this.cells.set(checkpoint, (cells = new Map()));
    const key = rep.side + rep.rung;
    let cell = cells.get(key);
    if (!cell) cells.set(key, (cell = { rung: rep.rung, side: rep.side, tally: emptyTally() }));
    count(cell.tally, rep, failed, weight);
  }

  /** The tally of a checkpoint over a slice; null stands for all. */
  at(checkpoint: Id, { rung, side }: Slice): Tally {
    const total = emptyTally();
    for (const cell of this.cells.get(checkpoint)?.values() ?? [])
      if ((rung === null || rung === cell.rung) && (side === null || side === cell.side))
        add(total, cell.tally);
    return total;
  }
}

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

  const slice: Slice = { rung, side };
  const inTime = question.reps
    .filter((rep) => Date.parse(rep.at) <= Date.parse(asOf) && editions.has(rep.edition))
    .sort((a, b) => (a.id < b.id ? -1 : 1));
  for (const rep of inTime) {
    const weight = weightOf(rep.at, asOf, halfLifeDays);
    const asked = (rung === null || rep.rung === rung) && (side === null || rep.side === side);
    const whole = rep.from === null && rep.to === null && rep.outcome !== 'not judged';
    for (const ledger of [squad, ledgerOf(rep.student)]) {
      if (asked) ledger.reps += 1;
      if (asked && whole) ledger.judged += 1;
      if (asked && whole && rep.outcome !== 'stopped') ledger.finished += 1;
      for (const [checkpoint, observation] of observe(editions.get(rep.edition)!, rep))
        if (observation !== 'not seen') ledger.add(checkpoint, rep, observation === 'failed', weight);
    }
  }

  /** The squad's posterior at a slice, around the general rate: what a student's prior rate is read from. */
  const squadAt = (id: Id, at: Slice): Beta => posterior(squad.at(id, at), generalHazard);
  const studentAt = (ledger: Ledger, id: Id, at: Slice): Beta =>
    posterior(ledger.at(id, at), meanOf(squadAt(id, at)));
  const ids = breakdown.checkpoints.map(({ id }) => id);
  const squadBetas = ids.map((id) => squadAt(id, slice));
  const betasOf = new Map(
    [...ledgers].map(([student, ledger]) => [
      student,
      ids.map((id, i) => posterior(ledger.at(id, slice), meanOf(squadBetas[i]!))),
    ]),
  );
  const targets = ids.map((id, i) => {
    const known = [...ledgers].filter(
      ([, ledger]) => ledger.at(id, slice).reached >= squadForQuartile.reachedEach,
    );
    if (known.length < squadForQuartile.students) return smallSquadTarget;
    const hazards = known.map(([student]) => meanOf(betasOf.get(student)![i]!)).sort((a, b) => a - b);
    return quantile(hazards, 0.25);
  });

  /** P(the off side breaks more often), from as many draws of both sides. */
  const sideGapOf = (ledger: Ledger, id: Id, mainSide: Side): number | null => {
    const sides = [mainSide, otherSide(mainSide)].map((one): Slice => ({ rung, side: one }));
    if (sides.some((one) => ledger.at(id, one).reached < reachedForSideGap)) return null;
    const betas = sides.map((one) => studentAt(ledger, id, one));
    return betaDraws(betas, draws, seedOf(id)).filter(([main, off]) => off! > main!).length / draws;
  };

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
        const tally = ledger.at(id, slice);
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
          byRung: rungs.flatMap((one): RungReading[] => {
            const at: Slice = { rung: one, side };
            const { reached, failed } = ledger.at(id, at);
            if (reached === 0) return [];
            const { a, b } = student ? studentAt(ledger, id, at) : squadAt(id, at);
            return [{ rung: one, reached, failed, held: betaEstimate({ a: b, b: a }) }];
          }),
          sideGap: student ? sideGapOf(ledger, id, mainSide) : null,
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
      .map(([student, ledger]) => readingOf(student, ledger, betasOf.get(student)!)),
  };
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
