import { type Cholesky, cholesky, solve } from '../../math';
import type { Groups, Priors, Spread, Trials } from './trials';

/** Every effect of the model on the log-odds scale. */
export interface Effects {
  /** Checkpoints first, then the shared effects. */
  fixed: Float64Array;
  student: Float64Array;
  /** One a group. */
  deviation: Float64Array;
}

/**
 * The curvature at a mode with deviations and then students eliminated: what covariance and draws are made of.
 * Given everything above it, a deviation has variance `groupVariance`, a student `studentVariance`; the fixed part has the
 * inverse of `factor`'s matrix.
 */
export interface Curvature {
  factor: Cholesky;
  /** Per group: Σ of the trials' weights, and their cross sums with the shared effects (`shared` values in a row). */
  groupWeight: Float64Array;
  groupCross: Float64Array;
  groupVariance: Float64Array;
  /** Per student: cross terms with the fixed part (`fixed` values in a row), after the deviations are eliminated. */
  studentCross: Float64Array;
  studentVariance: Float64Array;
}

export interface Mode {
  effects: Effects;
  curvature: Curvature;
  /** Log-likelihood plus log-priors of all effects, without constants. */
  logPosterior: number;
  /** Laplace's approximation of the log marginal likelihood of the spread, without constants. */
  logMarginal: number;
  steps: number;
}

export const noEffects = ({ students, checkpoints, shared }: Trials, groups: Groups): Effects => ({
  fixed: new Float64Array(checkpoints + shared),
  student: new Float64Array(students),
  deviation: new Float64Array(groups.student.length),
});

/** log(1 + eˣ) without overflow. */
const softplus = (x: number): number => (x > 0 ? x + Math.log1p(Math.exp(-x)) : Math.log1p(Math.exp(x)));

const mostSteps = 60;
const mostHalvings = 25;
/** A Newton step that moves no effect by more than this is the last. */
const stepTolerance = 1e-9;

/**
 * The joint mode of all effects at a given spread, by penalised Newton steps (iteratively reweighted least squares), and the
 * curvature there. A deviation enters each of its trials once, so it is eliminated exactly; so is then a student; a dense system
 * of checkpoints and shared effects remains. With flat priors and unit weights this is the estimate of lme4::glmer(…, nAGQ = 0):
 * Bates et al., Journal of Statistical Software 67 (2015), 1–48.
 */
export function modeOf(
  trials: Trials,
  groups: Groups,
  priors: Priors,
  spread: Spread,
  start: Effects = noEffects(trials, groups),
): Mode {
  let effects = start;
  let logPosterior = logPosteriorOf(trials, groups, priors, spread, effects);
  for (let steps = 1; ; steps++) {
    const { step, curvature, logDeterminant } = newtonStep(trials, groups, priors, spread, effects);
    let size = 1;
    let next = moved(effects, step, size);
    let there = logPosteriorOf(trials, groups, priors, spread, next);
    for (let i = 0; i < mostHalvings && !(there >= logPosterior - 1e-12 * Math.abs(logPosterior)); i++) {
      size /= 2;
      next = moved(effects, step, size);
      there = logPosteriorOf(trials, groups, priors, spread, next);
    }
    const largest = Math.max(largestOf(step.fixed), largestOf(step.student), largestOf(step.deviation));
    if (largest < stepTolerance || steps === mostSteps)
      return { effects, curvature, logPosterior, logMarginal: logPosterior - logDeterminant / 2, steps };
    effects = next;
    logPosterior = there;
  }
}

const largestOf = (values: Float64Array): number =>
  values.reduce((most, x) => Math.max(most, Math.abs(x)), 0);

const moved = (from: Effects, step: Effects, size: number): Effects => ({
  fixed: from.fixed.map((x, i) => x + size * step.fixed[i]!),
  student: from.student.map((x, i) => x + size * step.student[i]!),
  deviation: from.deviation.map((x, i) => x + size * step.deviation[i]!),
});

/** Linear predictor of a cell without its shared part, which all cells of a group have in common. */
const baseOf = (
  { fixed, student, deviation }: Effects,
  { student: s, checkpoint: c }: Groups,
  g: number,
): number => fixed[c[g]!]! + student[s[g]!]! + deviation[g]!;

function logPosteriorOf(
  { checkpoints, shared, reached, failed, x }: Trials,
  groups: Groups,
  priors: Priors,
  spread: Spread,
  effects: Effects,
): number {
  const { fixed, student, deviation } = effects;
  let sum = 0;
  for (let g = 0; g < deviation.length; g++) {
    const base = baseOf(effects, groups, g);
    for (let i = groups.start[g]!; i < groups.start[g + 1]!; i++) {
      let eta = base;
      for (let k = 0; k < shared; k++) eta += x[i * shared + k]! * fixed[checkpoints + k]!;
      sum += failed[i]! * eta - reached[i]! * softplus(eta);
    }
  }
  const square = (value: number, deviationOf: number): number =>
    deviationOf > 0 ? (value / deviationOf) ** 2 : 0;
  let penalty = 0;
  for (let c = 0; c < checkpoints; c++)
    penalty += square(fixed[c]! - priors.checkpoint.mean, priors.checkpoint.deviation);
  for (let k = 0; k < shared; k++) penalty += square(fixed[checkpoints + k]!, priors.shared[k]!);
  for (const u of student) penalty += square(u, spread.student);
  for (const v of deviation) penalty += square(v, spread.deviation);
  return sum - penalty / 2;
}

/** What a normal variable's variance of `prior`² becomes once trials of summed weight `weight` have been seen. */
const varianceAfter = (prior: number, weight: number): number => prior ** 2 / (1 + prior ** 2 * weight);

function newtonStep(
  { students, checkpoints, shared, reached, failed, x }: Trials,
  groups: Groups,
  priors: Priors,
  spread: Spread,
  effects: Effects,
): { step: Effects; curvature: Curvature; logDeterminant: number } {
  const { fixed, student, deviation } = effects;
  const count = deviation.length;
  const size = checkpoints + shared;
  const matrix = new Float64Array(size * size);
  const gradient = new Float64Array(size);
  const groupWeight = new Float64Array(count);
  const groupCross = new Float64Array(count * shared);
  const groupVariance = new Float64Array(count);
  /** What a group would move by if all above it stood still. */
  const groupPull = new Float64Array(count);
  const studentCross = new Float64Array(students * size);
  const studentWeight = new Float64Array(students);
  const studentGradient = new Float64Array(students);
  const sharedGradient = new Float64Array(shared);
  let logDeterminant = 0;

  for (let g = 0; g < count; g++) {
    const base = baseOf(effects, groups, g);
    const cross = groupCross.subarray(g * shared, (g + 1) * shared);
    sharedGradient.fill(0);
    let weight = 0;
    let residual = 0;
    for (let i = groups.start[g]!; i < groups.start[g + 1]!; i++) {
      let eta = base;
      for (let k = 0; k < shared; k++) eta += x[i * shared + k]! * fixed[checkpoints + k]!;
      const mean = 1 / (1 + Math.exp(-eta));
      const w = reached[i]! * mean * (1 - mean);
      const r = failed[i]! - reached[i]! * mean;
      weight += w;
      residual += r;
      for (let k = 0; k < shared; k++) {
        const xk = x[i * shared + k]!;
        if (xk === 0) continue;
        cross[k]! += w * xk;
        sharedGradient[k]! += r * xk;
        const row = (checkpoints + k) * size + checkpoints;
        for (let j = 0; j <= k; j++) matrix[row + j]! += w * xk * x[i * shared + j]!;
      }
    }
    const variance = varianceAfter(spread.deviation, weight);
    const left = 1 - variance * weight;
    const pull =
      spread.deviation > 0 ? (spread.deviation ** 2 * residual - deviation[g]!) * left : -deviation[g]!;
    groupWeight[g] = weight;
    groupVariance[g] = variance;
    groupPull[g] = pull;
    logDeterminant += Math.log1p(spread.deviation ** 2 * weight);

    const s = groups.student[g]!;
    const c = groups.checkpoint[g]!;
    const ofStudent = s * size;
    matrix[c * size + c]! += weight * left;
    gradient[c]! += residual - weight * pull;
    studentWeight[s]! += weight * left;
    studentGradient[s]! += residual - weight * pull;
    studentCross[ofStudent + c]! += weight * left;
    for (let k = 0; k < shared; k++) {
      const row = (checkpoints + k) * size;
      matrix[row + c]! += cross[k]! * left;
      gradient[checkpoints + k]! += sharedGradient[k]! - cross[k]! * pull;
      studentCross[ofStudent + checkpoints + k]! += cross[k]! * left;
      for (let j = 0; j <= k; j++) matrix[row + checkpoints + j]! -= variance * cross[k]! * cross[j]!;
    }
  }

  const studentVariance = new Float64Array(students);
  const studentPull = new Float64Array(students);
  for (let s = 0; s < students; s++) {
    const weight = studentWeight[s]!;
    const variance = varianceAfter(spread.student, weight);
    const pull =
      spread.student > 0
        ? (spread.student ** 2 * studentGradient[s]! - student[s]!) * (1 - variance * weight)
        : -student[s]!;
    studentVariance[s] = variance;
    studentPull[s] = pull;
    logDeterminant += Math.log1p(spread.student ** 2 * weight);
    const cross = studentCross.subarray(s * size, (s + 1) * size);
    for (let a = 0; a < size; a++) {
      const ca = cross[a]!;
      if (ca === 0) continue;
      gradient[a]! -= ca * pull;
      const row = a * size;
      const scaled = ca * variance;
      for (let b = 0; b <= a; b++) matrix[row + b]! -= scaled * cross[b]!;
    }
  }

  const precision = (deviationOf: number) => (Number.isFinite(deviationOf) ? 1 / deviationOf ** 2 : 0);
  for (let a = 0; a < size; a++) {
    const ofCheckpoint = a < checkpoints;
    const prior = precision(ofCheckpoint ? priors.checkpoint.deviation : priors.shared[a - checkpoints]!);
    matrix[a * size + a]! += prior;
    gradient[a]! -= prior * (fixed[a]! - (ofCheckpoint ? priors.checkpoint.mean : 0));
  }

  const factor = cholesky(matrix, size);
  const fixedStep = solve(factor, gradient);
  const studentStep = studentPull.map((pull, s) => {
    const cross = studentCross.subarray(s * size, (s + 1) * size);
    return pull - studentVariance[s]! * cross.reduce((sum, one, a) => sum + one * fixedStep[a]!, 0);
  });
  const deviationStep = groupPull.map((pull, g) => {
    let along = groupWeight[g]! * (fixedStep[groups.checkpoint[g]!]! + studentStep[groups.student[g]!]!);
    for (let k = 0; k < shared; k++) along += groupCross[g * shared + k]! * fixedStep[checkpoints + k]!;
    return pull - groupVariance[g]! * along;
  });
  return {
    step: { fixed: fixedStep, student: studentStep, deviation: deviationStep },
    curvature: { factor, groupWeight, groupCross, groupVariance, studentCross, studentVariance },
    logDeterminant,
  };
}
