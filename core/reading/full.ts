import { type Breakdown, type Checkpoint, type Id, otherSide, type Side } from '../breakdown';
import {
  type Closer,
  type Condition,
  fit,
  type FitOptions,
  modelPriors,
  Posterior,
  type SharedDraws,
  type TrialRow,
  trialsOf,
} from '../hazard';
import {
  type Estimate,
  finished,
  logistic,
  logit,
  normalCdf,
  normalQuantile,
  type Steps,
  tails,
} from '../math';
import { rungs } from '../rep';
import { type Tallied, partnerOfBand, partners } from './tallied';
import { type ReadingQuestion, readSquad } from './read';
import { drawCount, reachedForGap, type Sight } from './sight';
import type { Partner, Slice, SquadReading } from './reading';
import type { Cell } from './tally';

/** Changes whenever the same reps would be read differently; part of every exported reading. */
export const modelVersion = 'hazard/3';

/** The rung that the others are compared with. */
const referenceRung = 2;
const sharedSeed = 0.5;
/** ln(partner mass / student mass) of partners that nobody has met yet: about a sixth lighter or heavier. */
const unmetMass = { lighter: -0.15, heavier: 0.15 } as const;

/** The name of a checkpoint in the model of the whole academy. */
const inModel = (technique: Id, checkpoint: Id): string => `${technique}/${checkpoint}`;

/** The name of a piece in it; no checkpoint has such a name. */
const pieceInModel = (piece: Id): string => `piece:${piece}`;

/**
 * Every cell's checkpoints as trials of the model; a side is off where it is not the student's main one. What was drilled
 * since has lowered what was seen then, by what a dose does here.
 */
export const trialRows = (
  cells: readonly Cell[],
  mainSides: ReadonlyMap<Id, Side>,
  pieces: ReadonlyMap<string, string> = new Map(),
): TrialRow[] =>
  cells.flatMap(({ technique, student, rung, side, massBand, checkpoints }) =>
    Object.entries(checkpoints).flatMap(([checkpoint, { parts }]) =>
      parts.map(({ doses, weightReached, weightFailed }) => ({
        student,
        checkpoint: inModel(technique, checkpoint),
        piece: pieces.get(inModel(technique, checkpoint)),
        level: rung,
        off: side === (mainSides.get(student) ?? 'right') ? 0 : 1,
        mass: massBand / 10,
        doses,
        reached: weightReached,
        failed: Math.min(weightFailed, weightReached),
      })),
    ),
  );

/** The piece that each checkpoint of some breakdowns is, as the model calls both; those that are none are left out. */
const piecesInModel = (breakdowns: Iterable<Breakdown>): Map<string, string> =>
  new Map(
    [...breakdowns].flatMap(({ technique, checkpoints }) =>
      checkpoints.flatMap((one): [string, string][] =>
        one.piece === undefined ? [] : [[inModel(technique, one.id), pieceInModel(one.piece)]],
      ),
    ),
  );

/**
 * Fits the model to a whole academy's cells, every technique at once; what is the same piece in several of the breakdowns, a
 * student is thought to be the same at. It pauses as it goes; see `fit`.
 */
export function* fitAcademy(
  cells: readonly Cell[],
  mainSides: ReadonlyMap<Id, Side>,
  { breakdowns = [], ...options }: FitOptions & { breakdowns?: Iterable<Breakdown> } = {},
): Steps<Posterior> {
  const trials = trialsOf(trialRows(cells, mainSides, piecesInModel(breakdowns)), referenceRung, rungs);
  return new Posterior(yield* fit(trials, modelPriors, options));
}

/** The tails that an interval leaves out, of the standard normal distribution. */
const normalTails = { low: normalQuantile(tails.low), high: normalQuantile(tails.high) };

/** Conditions with their shares, which sum to 1. */
type Mix = readonly { share: number; features: Float64Array }[];

/** A hazard under mixed conditions from normal coefficients: its value and an 80 % interval on the logit scale. */
function hazardOf(mix: Mix, { mean, covariance }: Closer): Estimate & { deviation: number } {
  const n = mean.length;
  const slope = new Float64Array(n);
  let hazard = 0;
  for (const { share, features } of mix) {
    const p = hazardAt(features, mean);
    hazard += share * p;
    for (let i = 0; i < n; i++) slope[i]! += share * p * (1 - p) * features[i]!;
  }
  let variance = 0;
  for (let i = 0; i < n; i++)
    for (let k = 0; k < n; k++) variance += slope[i]! * slope[k]! * covariance[i * n + k]!;
  const deviation = Math.sqrt(variance) / (hazard * (1 - hazard));
  const at = (tail: number) => logistic(logit(hazard) + deviation * tail);
  return { value: hazard, low: at(normalTails.low), high: at(normalTails.high), deviation };
}

function hazardAt(features: Float64Array, coefficients: Float64Array, from = 0): number {
  let x = 0;
  for (let i = 0; i < features.length; i++) x += features[i]! * coefficients[from + i]!;
  return logistic(x);
}

/** What the room's reps on a technique were like: shares of the rungs and of the off side, and how far masses differed. */
function roomOf({ breakdown, cells, mainSides }: ReadingQuestion) {
  const byRung = new Map(rungs.map((rung) => [rung, 0]));
  const masses = new Map(partners.map((partner) => [partner, { sum: 0, reps: 0 }]));
  let [off, total] = [0, 0];
  for (const { technique, student, rung, side, massBand, reps } of cells) {
    if (technique !== breakdown.technique) continue;
    byRung.set(rung, byRung.get(rung)! + reps);
    const mass = masses.get(partnerOfBand(massBand))!;
    mass.sum += (reps * massBand) / 10;
    mass.reps += reps;
    if (side !== (mainSides.get(student) ?? 'right')) off += reps;
    total += reps;
  }
  return {
    rungs:
      total === 0
        ? [{ rung: referenceRung, share: 1 }]
        : [...byRung].map(([rung, reps]) => ({ rung, share: reps / total })).filter(({ share }) => share > 0),
    off: total === 0 ? 0 : off / total,
    /** ln(partner mass / student mass) of a lighter, an even and a heavier partner, as they are met in this room. */
    massOf: (partner: Partner): number => {
      const { sum, reps } = masses.get(partner)!;
      return partner === 'even' ? 0 : reps > 0 ? sum / reps : unmetMass[partner];
    },
  };
}

/**
 * The full reading of one technique from a model fitted to the whole academy. A student's hazard is told for the rung,
 * side and partner asked for; where one is not asked for, for the mix that the room drills and for an even partner, the
 * same for everybody. Reps outside the slice inform it too. Gains are expected gains, over the draws.
 */
export function* fullReadingSteps(question: ReadingQuestion, posterior: Posterior): Steps<SquadReading> {
  const { breakdown, slice, mainSides } = question;
  const room = roomOf(question);
  const shared: SharedDraws = posterior.draws(drawCount, sharedSeed);

  const mixOf = (student: Id, { rung, side, partner }: Slice): Mix => {
    const main = mainSides.get(student) ?? 'right';
    const offs =
      side === null
        ? [
            { off: 0, share: 1 - room.off },
            { off: 1, share: room.off },
          ].filter(({ share }) => share > 0)
        : [{ off: side === main ? 0 : 1, share: 1 }];
    return (rung === null ? room.rungs : [{ rung, share: 1 }]).flatMap((one) =>
      offs.map(({ off, share }) => {
        const condition: Condition = { level: one.rung, off, mass: room.massOf(partner ?? 'even') };
        return { share: one.share * share, features: posterior.features(condition) };
      }),
    );
  };

  const sight = (student: Id, tallied: Tallied, { id, piece }: Checkpoint): Sight => {
    const name = inModel(breakdown.technique, id);
    const closer = posterior.closer(student, name, piece && pieceInModel(piece));
    const mix = mixOf(student, slice);
    const { deviation, ...atMode } = hazardOf(mix, closer);
    const coefficients = posterior.drawCloser(closer, shared);
    const draws = new Float64Array(drawCount);
    for (const { share, features } of mix)
      for (let draw = 0; draw < drawCount; draw++)
        draws[draw]! += share * hazardAt(features, coefficients, draw * features.length);
    // The mean over the draws, not the hazard of the mode: products of means stay within the interval of the products.
    const hazard = { ...atMode, value: draws.reduce((sum, x) => sum + x, 0) / draws.length };
    // A logit-normal hazard of this deviation is about as wide as a Beta of this many reps.
    const worth = Math.max(0.5, 1 / (hazard.value * (1 - hazard.value) * deviation ** 2) - 1);
    const n = closer.mean.length;
    const chancePositive = (at: number) =>
      normalCdf(closer.mean[at]! / Math.sqrt(closer.covariance[at * n + at]!));
    const met = (first: Partial<Slice>, second: Partial<Slice>): boolean =>
      [first, second].every((one) => tallied.at(id, { ...slice, ...one }).reached >= reachedForGap);
    const main = mainSides.get(student) ?? 'right';
    return {
      hazard,
      draws,
      beta: { a: worth * hazard.value, b: worth * (1 - hazard.value) },
      heldAt: (condition) => {
        const { value, low, high } = hazardOf(mixOf(student, { ...slice, ...condition }), closer);
        return { value: 1 - value, low: 1 - high, high: 1 - low };
      },
      sideGap: met({ side: main }, { side: otherSide(main) }) ? chancePositive(n - 2) : null,
      massGap: met({ partner: 'lighter' }, { partner: 'heavier' }) ? chancePositive(n - 1) : null,
    };
  };

  return yield* readSquad(question, 'full', (student, tallied) =>
    breakdown.checkpoints.map((checkpoint) => sight(student, tallied, checkpoint)),
  );
}

/** The full reading, without a pause. */
export const fullReading = (question: ReadingQuestion, posterior: Posterior): SquadReading =>
  finished(fullReadingSteps(question, posterior));
