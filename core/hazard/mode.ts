import { type Cholesky, cholesky, finished, solve, type Steps } from '../math';
import type { Trials } from './trials';

/** Precisions (1/variance) of the fixed part, and the mean of a checkpoint; a precision of 0 is flat. */
export interface Priors {
  checkpoint: { mean: number; precision: number };
  /** What a level above the reference, or below it, is thought to add to the logits for each step. */
  level: { step: number; precision: number };
  off: number;
  mass: number;
  /** The assumed effect of a dose. */
  fall: { mean: number; precision: number };
  /** What the scales are thought to be: log-normal around `usual`; null leaves them to the likelihood alone. */
  scales: { usual: Scales; spread: number } | null;
}

/** Standard deviations, in logits, of students and of a student's deviation at one piece: ω and τ. */
export interface Scales {
  student: number;
  deviation: number;
  /** What a dose does to the logits: a fall. The prior's where it is left out. */
  fall?: number;
}

/**
 * The priors of the model: checkpoint N(−1.4, 1.5²), level N(0.5 a rung, 1), because more resistance breaks more, off side and mass N(0, 0.5²), a dose N(−0.35, 0.25²): an assumption, wide enough to follow some ten corrections. The prior on the scales
 * keeps them from collapsing to nothing where reps are few, as the most likely scale often does (Chung et al.,
 * Psychometrika 78 (2013)); from about forty reps a student it hardly matters.
 */
export const modelPriors: Priors = {
  checkpoint: { mean: -1.4, precision: 1 / 1.5 ** 2 },
  level: { step: 0.5, precision: 1 },
  off: 4,
  mass: 4,
  fall: { mean: -0.35, precision: 1 / 0.25 ** 2 },
  scales: { usual: { student: 0.5, deviation: 0.7 }, spread: 0.3 },
};

/** No opinion on anything: what R's `glmer` has. */
export const flatPriors: Priors = {
  checkpoint: { mean: 0, precision: 0 },
  level: { step: 0, precision: 0 },
  off: 0,
  mass: 0,
  fall: { mean: 0, precision: 0 },
  scales: null,
};

/**
 * The joint mode at given scales, with all that the posterior is made of. Effects stand in one vector, in the order
 * checkpoints, levels, off, mass, students; deviations are apart, a cell each, because they are eliminated exactly.
 */
export interface Mode {
  trials: Trials;
  priors: Priors;
  scales: Scales;
  effects: Float64Array;
  deviation: Float64Array;
  /** Curvature of each cell's deviation at the mode. */
  bend: Float64Array;
  /** Factor of the Schur complement: the inverse covariance of `effects` with the deviations integrated out. */
  factor: Cholesky;
  /** Log-likelihood, Laplace-approximated over students and deviations, up to the constants of the fixed priors. */
  logMarginal: number;
}

export const fallAt = ({ fall }: Priors, scales: Scales): number => scales.fall ?? fall.mean;

/** The index of each effect in the vector. */
export const placesOf = ({ checkpoints, levels, students }: Trials) => {
  const level = checkpoints.length;
  const off = level + levels.length;
  return { level, off, mass: off + 1, student: off + 2, size: off + 2 + students.length };
};

/** Place in the vector of each feature of a cell but the first, which belongs to its checkpoint and its student. */
const featurePlaces = (trials: Trials): number[] => {
  const { level, off, mass } = placesOf(trials);
  return [-1, ...trials.levels.map((_, i) => level + i), off, mass];
};

/** What one pass over a part's trials gives: likelihood, its gradient and its curvature over the features. */
export interface Pass {
  logLikelihood: number;
  gradient: Float64Array;
  /** `features`² row by row, only the upper half filled. */
  curvature: Float64Array;
}

export const newPass = ({ features }: Trials): Pass => ({
  logLikelihood: 0,
  gradient: new Float64Array(features),
  curvature: new Float64Array(features * features),
});

/** Sums a part's trials at given coefficients of its features, and a given fall a dose, into `pass`. */
export function passOver(
  trials: Trials,
  part: number,
  coefficients: Float64Array,
  fall: number,
  pass: Pass,
): void {
  const { features, level, off, mass, doses, reached, failed, parts } = trials;
  const { gradient, curvature } = pass;
  gradient.fill(0);
  curvature.fill(0);
  let logLikelihood = 0;
  const [offAt, massAt] = [features - 2, features - 1];
  for (let row = parts.start[part]!; row < parts.start[part + 1]!; row++) {
    const at = level[row]! + 1;
    const [o, m, n, y] = [off[row]!, mass[row]!, reached[row]!, failed[row]!];
    const logit =
      -fall * doses[row]! +
      coefficients[0]! +
      (at > 0 ? coefficients[at]! : 0) +
      coefficients[offAt]! * o +
      coefficients[massAt]! * m;
    // One exponential gives the rate and ln(1 + eˣ), and neither overflows.
    const small = Math.exp(-Math.abs(logit));
    const p = logit >= 0 ? 1 / (1 + small) : small / (1 + small);
    const residual = y - n * p;
    const weight = n * p * (1 - p);
    logLikelihood += y * logit - n * (Math.max(logit, 0) + Math.log(1 + small));
    gradient[0]! += residual;
    curvature[0]! += weight;
    if (at > 0) {
      gradient[at]! += residual;
      curvature[at]! += weight;
      curvature[at * features + at]! += weight;
    }
    if (o !== 0) {
      gradient[offAt]! += residual * o;
      curvature[offAt]! += weight * o;
      if (at > 0) curvature[at * features + offAt]! += weight * o;
      curvature[offAt * features + offAt]! += weight * o * o;
    }
    if (m !== 0) {
      gradient[massAt]! += residual * m;
      curvature[massAt]! += weight * m;
      if (at > 0) curvature[at * features + massAt]! += weight * m;
      if (o !== 0) curvature[offAt * features + massAt]! += weight * m * o;
      curvature[massAt * features + massAt]! += weight * m * m;
    }
  }
  pass.logLikelihood = logLikelihood;
}

/** A penalised Newton step's worth of the whole model at one point. */
interface Survey {
  /** Log-likelihood less the penalties of students, deviations and fixed priors. */
  penalised: number;
  logMarginal: number;
  /** Schur complement and its right-hand side, deviations eliminated. */
  matrix: Float64Array;
  right: Float64Array;
  /** Cell by cell: gradient and curvature of the deviation, and its curvature with each feature. */
  slope: Float64Array;
  bend: Float64Array;
  cross: Float64Array;
  /** Part by part: the curvature of the deviation with the checkpoint. */
  lead: Float64Array;
}

/** The most parts that a cell has: in how many techniques one student has met one piece. */
const mostParts = ({ cells }: Trials): number => {
  let most = 1;
  for (let cell = 0; cell < cells.count; cell++)
    most = Math.max(most, cells.start[cell + 1]! - cells.start[cell]!);
  return most;
};

function survey(
  trials: Trials,
  priors: Priors,
  scales: Scales,
  effects: Float64Array,
  deviation: Float64Array,
): Survey {
  const { cells, parts, features } = trials;
  const places = placesOf(trials);
  const { size } = places;
  const fixed = featurePlaces(trials);
  const matrix = new Float64Array(size * size);
  const right = new Float64Array(size);
  const slope = new Float64Array(cells.count);
  const bend = new Float64Array(cells.count);
  const cross = new Float64Array(cells.count * features);
  const lead = new Float64Array(parts.count);
  const passes = Array.from({ length: mostParts(trials) }, () => newPass(trials));
  // All but the first are the same for every cell.
  const coefficients = new Float64Array(features);
  coefficients.set(effects.subarray(places.level, places.student), 1);
  const fall = fallAt(priors, scales);
  const precision = { student: scales.student ** -2, deviation: scales.deviation ** -2 };
  let penalised = 0;
  let logDeterminant = 0;
  const add = (i: number, j: number, value: number) => {
    if (i >= j) matrix[i * size + j]! += value;
    else matrix[j * size + i]! += value;
  };
  for (let cell = 0; cell < cells.count; cell++) {
    const student = places.student + cells.student[cell]!;
    const own = deviation[cell]!;
    const [from, to] = [cells.start[cell]!, cells.start[cell + 1]!];
    const at = cell * features;
    let g = -precision.deviation * own;
    let h = precision.deviation;
    penalised -= (precision.deviation * own * own) / 2;
    for (let part = from; part < to; part++) {
      const pass = passes[part - from]!;
      coefficients[0] = effects[parts.checkpoint[part]!]! + effects[student]! + own;
      passOver(trials, part, coefficients, fall, pass);
      penalised += pass.logLikelihood;
      g += pass.gradient[0]!;
      h += pass.curvature[0]!;
      lead[part] = pass.curvature[0]!;
      for (let i = 0; i < features; i++) cross[at + i]! += pass.curvature[i]!;
    }
    slope[cell] = g;
    bend[cell] = h;
    logDeterminant += Math.log(h / precision.deviation);
    for (let part = from; part < to; part++) {
      const { gradient, curvature } = passes[part - from]!;
      const checkpoint = parts.checkpoint[part]!;
      const first = curvature[0]!;
      const toRight = gradient[0]! - (first * g) / h;
      right[checkpoint]! += toRight;
      right[student]! += toRight;
      add(checkpoint, checkpoint, first - (first * first) / h);
      // The deviation that they share ties a piece's checkpoints to each other.
      for (let other = from; other < part; other++)
        add(checkpoint, parts.checkpoint[other]!, -(first * lead[other]!) / h);
      const shared = first - (first * cross[at]!) / h;
      add(student, student, shared);
      add(student, checkpoint, shared);
      for (let i = 1; i < features; i++) {
        const one = curvature[i]!;
        if (cross[at + i] === 0 && curvature[i * features + i] === 0) continue;
        right[fixed[i]!]! += gradient[i]! - (one * g) / h;
        add(fixed[i]!, checkpoint, one - (first * cross[at + i]!) / h);
        add(student, fixed[i]!, one - (one * cross[at]!) / h);
        for (let k = i; k < features; k++) {
          const value = curvature[i * features + k]! - (one * cross[at + k]!) / h;
          if (value !== 0) add(fixed[i]!, fixed[k]!, value);
        }
      }
    }
  }
  const penalise = (place: number, mean: number, weight: number) => {
    const away = effects[place]! - mean;
    penalised -= (weight * away * away) / 2;
    right[place]! -= weight * away;
    matrix[place * size + place]! += weight;
  };
  for (let i = 0; i < places.level; i++) penalise(i, priors.checkpoint.mean, priors.checkpoint.precision);
  trials.levels.forEach((level, i) =>
    penalise(places.level + i, priors.level.step * (level - trials.reference), priors.level.precision),
  );
  penalise(places.off, 0, priors.off);
  penalise(places.mass, 0, priors.mass);
  for (let i = places.student; i < size; i++) {
    penalise(i, 0, precision.student);
    // A student meets no other student in any trial, so this block of the Schur complement is diagonal.
    logDeterminant += Math.log(matrix[i * size + i]! / precision.student);
  }
  // Where nothing varies, a flat prior leaves a row of zeros: the effect stays where it is.
  for (let i = 0; i < size; i++) if (matrix[i * size + i] === 0) matrix[i * size + i] = 1;
  return { penalised, logMarginal: penalised - logDeterminant / 2, matrix, right, slope, bend, cross, lead };
}

const mostSteps = 60;

/**
 * The joint mode of all effects at given scales, by Newton steps that are halved until they do not lose. `start` is a
 * mode of the same trials (or of trials with the same shape) to begin from; `tolerance` bounds what the objective may
 * still be short of its maximum. Source: Breslow & Clayton, JASA 88 (1993); Bates et al., J. Stat. Software 67 (2015).
 */
export function* modeSteps(
  trials: Trials,
  priors: Priors,
  scales: Scales,
  start?: Pick<Mode, 'effects' | 'deviation'>,
  tolerance = 1e-8,
): Steps<Mode> {
  const { cells, parts, features } = trials;
  const places = placesOf(trials);
  const fixed = featurePlaces(trials);
  let effects = start ? Float64Array.from(start.effects) : new Float64Array(places.size);
  let deviation = start ? Float64Array.from(start.deviation) : new Float64Array(cells.count);
  if (!start) effects.fill(priors.checkpoint.mean, 0, places.level);
  let here = survey(trials, priors, scales, effects, deviation);
  let factor = cholesky(here.matrix, places.size);
  for (let step = 0; step < mostSteps; step++) {
    yield;
    const move = solve(factor, Float64Array.from(here.right));
    const own = new Float64Array(cells.count);
    let decrement = 0;
    for (let i = 0; i < places.size; i++) decrement += move[i]! * here.right[i]!;
    for (let cell = 0; cell < cells.count; cell++) {
      const at = cell * features;
      let shared = here.cross[at]! * move[places.student + cells.student[cell]!]!;
      for (let part = cells.start[cell]!; part < cells.start[cell + 1]!; part++)
        shared += here.lead[part]! * move[parts.checkpoint[part]!]!;
      for (let i = 1; i < features; i++) shared += here.cross[at + i]! * move[fixed[i]!]!;
      own[cell] = (here.slope[cell]! - shared) / here.bend[cell]!;
      decrement += here.slope[cell]! ** 2 / here.bend[cell]!;
    }
    if (decrement < tolerance) break;
    let length = 1;
    for (;;) {
      const tried = effects.map((x, i) => x + length * move[i]!);
      const triedOwn = deviation.map((x, i) => x + length * own[i]!);
      const there = survey(trials, priors, scales, tried, triedOwn);
      if (there.penalised >= here.penalised - 1e-12 * Math.abs(here.penalised) || length < 1e-6) {
        [effects, deviation, here] = [tried, triedOwn, there];
        break;
      }
      length /= 2;
    }
    factor = cholesky(here.matrix, places.size);
  }
  const { bend, logMarginal } = here;
  return { trials, priors, scales, effects, deviation, bend, factor, logMarginal };
}

/** The joint mode, without a pause. */
export const modeAt = (...of: Parameters<typeof modeSteps>): Mode => finished(modeSteps(...of));

/**
 * The fall a dose that fits best at a mode, by Newton steps with everything else as it is: what a student drilled since
 * explains why reps of before broke more often than those of now.
 */
export function fallFrom({ trials, priors, scales, effects, deviation }: Mode): number {
  const { cells, parts, level, off, mass, doses, reached, failed } = trials;
  const places = placesOf(trials);
  let fall = fallAt(priors, scales);
  if (doses.every((one) => one === 0)) return fall;
  for (let step = 0; step < 20; step++) {
    let slope = -priors.fall.precision * (fall - priors.fall.mean);
    let bend = priors.fall.precision;
    for (let cell = 0; cell < cells.count; cell++) {
      const own = effects[places.student + cells.student[cell]!]! + deviation[cell]!;
      for (let part = cells.start[cell]!; part < cells.start[cell + 1]!; part++)
        for (let row = parts.start[part]!; row < parts.start[part + 1]!; row++) {
          const [dose, n] = [doses[row]!, reached[row]!];
          if (dose === 0) continue;
          const logit =
            own +
            effects[parts.checkpoint[part]!]! +
            (level[row]! < 0 ? 0 : effects[places.level + level[row]!]!) +
            effects[places.off]! * off[row]! +
            effects[places.mass]! * mass[row]! -
            fall * dose;
          const p = 1 / (1 + Math.exp(-logit));
          slope -= dose * (failed[row]! - n * p);
          bend += dose * dose * n * p * (1 - p);
        }
    }
    if (bend === 0) return fall;
    const move = slope / bend;
    fall += Math.max(-0.5, Math.min(0.5, move));
    if (Math.abs(move) < 1e-6) break;
  }
  // A dose makes nobody worse.
  return Math.min(0, fall);
}
