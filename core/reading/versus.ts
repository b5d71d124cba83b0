import { z } from 'zod';
import type { Side } from '../breakdown';
import { cholesky, type Cholesky, Estimate, logistic, logit, normalCdf, solve, tails } from '../math';

/** Reps of one student with one of two things that are compared, under like conditions. */
export interface Trial {
  student: string;
  /** Of the first (`a`) or of the second (`b`). */
  of: 'a' | 'b';
  held: number;
  n: number;
  /** How much the partner resisted, 0…4; all alike if it is left out. */
  rung?: number;
  /** The lead side; all alike if it is left out. */
  side?: Side;
}

/** Which of two holds more often: how sure that is, and how often each holds for these students. */
export const Versus = z.object({
  /** P(a holds more often than b). */
  chance: z.number().min(0).max(1),
  a: Estimate,
  b: Estimate,
});
export type Versus = z.infer<typeof Versus>;

// Priors, on the log-odds scale; all are weak, and both of the two have the same.
/** For the difference between the two, sd. */
const differenceSd = 2;
/** For the middle of both, sd. */
const middleSd = 2.5;
/** Of what a rung or the other side changes, sd. */
const conditionSd = 1;
/** Of what sets students apart: a half-normal of this scale. */
const studentScale = 1;

const studentSds = [0.05, 0.2, 0.4, 0.6, 0.8, 1, 1.3, 1.7, 2.2];
/** The width of the step around each of them. */
const sdSteps = studentSds.map((sd, i) => {
  const below = i === 0 ? 0 : (studentSds[i - 1]! + sd) / 2;
  const above = i === studentSds.length - 1 ? sd + 0.3 : (studentSds[i + 1]! + sd) / 2;
  return above - below;
});

interface Row {
  student: number;
  /** +½ of a, −½ of b. */
  half: number;
  held: number;
  n: number;
  /** 1 and the conditions, each as a difference from their mean. */
  fixed: readonly number[];
}

interface Design {
  rows: readonly Row[];
  students: number;
  size: number;
}

/** Trials under the same conditions as one. */
function gathered(trials: readonly Trial[]): Trial[] {
  const cells = new Map<string, Trial>();
  for (const trial of trials) {
    if (trial.n === 0) continue;
    const key = JSON.stringify([trial.student, trial.of, trial.rung, trial.side]);
    const { held, n } = cells.get(key) ?? { held: 0, n: 0 };
    cells.set(key, { ...trial, held: held + trial.held, n: n + trial.n });
  }
  return [...cells.values()];
}

/** The trials as rows; a condition that never differs is left out. */
function designOf(trials: readonly Trial[]): Design {
  const seen = gathered(trials);
  const ids = [...new Set(seen.map(({ student }) => student))];
  const all = seen.reduce((sum, { n }) => sum + n, 0);
  const conditions = [
    seen.map(({ rung = 0 }) => rung),
    seen.map(({ side = 'right' }) => Number(side === 'left')),
  ].flatMap((values) => {
    if (values.every((value) => value === values[0])) return [];
    const mean = values.reduce((sum, value, i) => sum + value * seen[i]!.n, 0) / all;
    return [values.map((value) => value - mean)];
  });
  const rows = seen.map(({ student, of, held, n }, i) => ({
    student: ids.indexOf(student),
    half: of === 'a' ? 0.5 : -0.5,
    held,
    n,
    fixed: [1, ...conditions.map((values) => values[i]!)],
  }));
  return { rows, students: ids.length, size: 1 + conditions.length };
}

/** The height of the posterior at its mode over everything but the difference and the students' spread. */
interface Peak {
  fixed: Float64Array;
  own: Float64Array;
  /** Curvature: of each student, of the fixed ones with them, and the factor of what is left for the fixed ones. */
  ofOwn: Float64Array;
  between: Float64Array[];
  factor: Cholesky;
  logHeight: number;
}

/** Newton's method at a given difference and spread; students are eliminated one by one, since each meets only the fixed ones. */
function peakAt({ rows, students, size }: Design, difference: number, sd: number, start: Peak | null): Peak {
  const fixed = Float64Array.from(start?.fixed ?? new Float64Array(size));
  const own = Float64Array.from(start?.own ?? new Float64Array(students));
  const priors = Float64Array.from({ length: size }, (_, i) => 1 / (i === 0 ? middleSd : conditionSd) ** 2);
  const precision = 1 / sd ** 2;
  for (let round = 0; ; round++) {
    const ofOwn = new Float64Array(students).fill(precision);
    const between = Array.from({ length: students }, () => new Float64Array(size));
    const slopeOwn = Float64Array.from(own, (one) => -one * precision);
    const slope = Float64Array.from(fixed, (one, i) => -one * priors[i]!);
    const matrix = new Float64Array(size * size);
    priors.forEach((one, i) => (matrix[i * size + i] = one));
    let logHeight = 0;
    for (const { student, half, held, n, fixed: x } of rows) {
      let eta = own[student]! + half * difference;
      for (let i = 0; i < size; i++) eta += x[i]! * fixed[i]!;
      const p = logistic(eta);
      logHeight += held * eta - n * (eta > 0 ? eta + Math.log1p(Math.exp(-eta)) : Math.log1p(Math.exp(eta)));
      const weight = n * p * (1 - p);
      const off = held - n * p;
      ofOwn[student]! += weight;
      slopeOwn[student]! += off;
      for (let i = 0; i < size; i++) {
        slope[i]! += x[i]! * off;
        between[student]![i]! += x[i]! * weight;
        for (let k = 0; k <= i; k++) matrix[i * size + k]! += x[i]! * x[k]! * weight;
      }
    }
    let logDet = 0;
    const step = slope;
    for (let s = 0; s < students; s++) {
      logDet += Math.log(ofOwn[s]!);
      logHeight -= (own[s]! ** 2 * precision) / 2 + Math.log(sd);
      for (let i = 0; i < size; i++) {
        step[i]! -= (between[s]![i]! * slopeOwn[s]!) / ofOwn[s]!;
        for (let k = 0; k <= i; k++) matrix[i * size + k]! -= (between[s]![i]! * between[s]![k]!) / ofOwn[s]!;
      }
    }
    fixed.forEach((one, i) => (logHeight -= (one ** 2 * priors[i]!) / 2));
    const factor = cholesky(matrix, size);
    for (let i = 0; i < size; i++) logDet += 2 * Math.log(factor.lower[i * size + i]!);
    solve(factor, step);
    let largest = 0;
    for (let i = 0; i < size; i++) {
      const by = Math.max(-2, Math.min(2, step[i]!));
      fixed[i]! += by;
      largest = Math.max(largest, Math.abs(by));
    }
    for (let s = 0; s < students; s++) {
      let by = slopeOwn[s]!;
      for (let i = 0; i < size; i++) by -= between[s]![i]! * step[i]!;
      by = Math.max(-2, Math.min(2, by / ofOwn[s]!));
      own[s]! += by;
      largest = Math.max(largest, Math.abs(by));
    }
    if (largest < 1e-5 || round === 40)
      return { fixed, own, ofOwn, between, factor, logHeight: logHeight - logDet / 2 };
  }
}

/** Mean over the students of how often one of the two holds, and the variance of that mean, by the delta method. */
function rateAt({ students, size }: Design, peak: Peak, shift: number): { mean: number; variance: number } {
  const slopes = new Float64Array(students);
  let mean = 0;
  for (let s = 0; s < students; s++) {
    const p = logistic(peak.fixed[0]! + peak.own[s]! + shift);
    mean += p / students;
    slopes[s] = (p * (1 - p)) / students;
  }
  // gᵀH⁻¹g, with the students eliminated as above: g is `slopes` for them and their sum for the middle.
  const left = new Float64Array(size);
  left[0] = slopes.reduce((sum, one) => sum + one, 0);
  let variance = 0;
  for (let s = 0; s < students; s++) {
    variance += slopes[s]! ** 2 / peak.ofOwn[s]!;
    for (let i = 0; i < size; i++) left[i]! -= (peak.between[s]![i]! * slopes[s]!) / peak.ofOwn[s]!;
  }
  const solved = solve(peak.factor, Float64Array.from(left));
  for (let i = 0; i < size; i++) variance += left[i]! * solved[i]!;
  return { mean, variance };
}

interface Part {
  weight: number;
  at: number;
  sd: number;
}

/** Mean and 80 % interval of a mixture of normals on the log-odds scale, as rates. */
function rateOf(parts: readonly Part[], value: number): Estimate {
  const below = (p: number): number => {
    let [low, high] = [-12, 12];
    for (let i = 0; i < 50; i++) {
      const middle = (low + high) / 2;
      const mass = parts.reduce((sum, { weight, at, sd }) => sum + weight * normalCdf((middle - at) / sd), 0);
      if (mass < p) low = middle;
      else high = middle;
    }
    return logistic((low + high) / 2);
  };
  const [low, high] = [below(tails.low), below(tails.high)];
  return { value: Math.min(high, Math.max(low, value)), low, high };
}

interface Point {
  difference: number;
  peak: Peak;
  log: number;
}

/** Steps of the grid of differences, up to its end. */
const differenceStep = 0.25;
const mostDifference = 6;
/** A point this far below the highest, in logs, adds nothing. */
const negligible = 14;

/** The posterior over the difference at one spread of the students: from none outwards, until nothing is added any more. */
function pointsAt(design: Design, sd: number, sdStep: number): Point[] {
  const at = (difference: number, start: Peak | null): Point => {
    const peak = peakAt(design, difference, sd, start);
    const prior = difference ** 2 / differenceSd ** 2 / 2 + sd ** 2 / studentScale ** 2 / 2;
    return { difference, peak, log: peak.logHeight - prior + Math.log(sdStep) };
  };
  const middle = at(0, null);
  const points = [middle];
  for (const step of [differenceStep, -differenceStep]) {
    let [last, highest] = [middle, middle.log];
    while (Math.abs(last.difference) < mostDifference && last.log > highest - negligible) {
      last = at(last.difference + step, last.peak);
      highest = Math.max(highest, last.log);
      points.push(last);
    }
  }
  return points;
}

/**
 * Which of two holds more often, from reps of any students: held ~ which + student (random) + rung + side, logistic. The
 * difference and the students' spread are integrated over a grid; everything else at each point by Laplace's approximation
 * (Tierney and Kadane, Journal of the American Statistical Association 81 (1986)). So a busy student counts no more than what
 * is known of them, and which of the two has more reps does not matter. Deterministic.
 */
export function versus(trials: readonly Trial[]): Versus {
  const design = designOf(trials);
  if (design.rows.length === 0) {
    const unknown = { value: 0.5, low: 0.1, high: 0.9 };
    return { chance: 0.5, a: unknown, b: unknown };
  }
  // One student alone does not say how far students are apart, and nothing depends on it.
  const points =
    design.students === 1
      ? pointsAt(design, studentScale, 1)
      : studentSds.flatMap((sd, i) => pointsAt(design, sd, sdSteps[i]!));
  const highest = Math.max(...points.map(({ log }) => log));
  const weights = points.map(({ log }) => Math.exp(log - highest));
  const all = weights.reduce((sum, one) => sum + one, 0);
  let chance = 0;
  const rates = { a: [] as Part[], b: [] as Part[] };
  const means = { a: 0, b: 0 };
  for (const [i, { difference, peak }] of points.entries()) {
    const weight = weights[i]! / all;
    chance += weight * (difference > 0 ? 1 : difference === 0 ? 0.5 : 0);
    if (weight < 1e-6) continue;
    for (const one of ['a', 'b'] as const) {
      const { mean, variance } = rateAt(design, peak, one === 'a' ? difference / 2 : -difference / 2);
      means[one] += weight * mean;
      rates[one].push({ weight, at: logit(mean), sd: Math.sqrt(variance) / (mean * (1 - mean)) });
    }
  }
  return {
    chance: Math.min(1, chance),
    a: rateOf(rates.a, means.a),
    b: rateOf(rates.b, means.b),
  };
}
