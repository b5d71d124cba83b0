import { type Cholesky, cholesky, solve } from '../math';
import type { Priors, Scales } from './priors';
import { newSums, sumsOver } from './sums';
import type { Trials } from './trials';

/** A point of the model: all effects in one vector, in the order of `placesOf`, and the deviation of each cell. A direction has the same shape. */
export interface Point {
  effects: Float64Array;
  deviation: Float64Array;
}

/** The index of each effect in the vector: checkpoints, levels, off, mass, the fall where anybody has drilled, students. */
export const placesOf = ({ checkpoints, levels, students, features, width }: Trials) => {
  const level = checkpoints.length;
  const off = level + levels.length;
  const student = level + width - 1;
  const fall = width > features ? off + 2 : null;
  return { level, off, mass: off + 1, fall, student, size: student + students.length };
};

/** Where the search for a mode begins: each checkpoint at its own log-odds, everybody alike. */
export function startOf(trials: Trials, priors: Priors): Point {
  const { checkpoints, parts, runs, reached, width, cells } = trials;
  const places = placesOf(trials);
  const effects = new Float64Array(places.size);
  const [failed, all] = [new Float64Array(checkpoints.length), new Float64Array(checkpoints.length)];
  for (let part = 0; part < parts.count; part++) {
    const at = parts.checkpoint[part]!;
    failed[at]! += parts.failed[part * width]!;
    const to = runs.start[parts.start[part + 1]!]!;
    for (let row = runs.start[parts.start[part]!]!; row < to; row++) all[at]! += reached[row]!;
  }
  checkpoints.forEach((_, i) => (effects[i] = Math.log((failed[i]! + 0.5) / (all[i]! - failed[i]! + 0.5))));
  if (places.fall !== null) effects[places.fall] = priors.fall.mean;
  return { effects, deviation: new Float64Array(cells.count) };
}

const dot = (a: Float64Array, b: Float64Array): number => {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i]! * b[i]!;
  return sum;
};

/** The inner product of two directions. */
export const along = (a: Point, b: Point): number =>
  dot(a.effects, b.effects) + dot(a.deviation, b.deviation);

/** A point, so far along a direction. */
export const moved = ({ effects, deviation }: Point, by: Point, length = 1): Point => ({
  effects: effects.map((x, i) => x + length * by.effects[i]!),
  deviation: deviation.map((x, i) => x + length * by.deviation[i]!),
});

/** How the log marginal changes with the logarithms of the scales, student first, and how the mode follows each. */
export interface Slopes {
  slope: [number, number];
  /** Expected curvature: ωω, ωτ, ττ. */
  fisher: [number, number, number];
  follows: [Point, Point];
}

/**
 * The penalised log-likelihood at a point: its gradient, its curvature with each cell's deviation eliminated, and from both the
 * Newton step and the slopes of the marginal likelihood. P and Q are the precisions of a deviation and of a student, h the curvature of a
 * deviation, κ = P/h, and A the curvature of a student with the deviations eliminated.
 */
export class Survey {
  readonly gradient: Point;
  /** h, cell by cell. */
  readonly bend: Float64Array;
  readonly factor: Cholesky;
  /** A, student by student. */
  private readonly studentBend: Float64Array;
  /** Cell by cell, `width` each: the curvature of the deviation with the student and with each other feature. */
  private readonly cross: Float64Array;
  /** Part by part: that with the checkpoint. */
  private readonly lead: Float64Array;
  /** Part by part, `width` each: how the weights change. */
  private readonly third: Float64Array;

  constructor(
    readonly trials: Trials,
    readonly priors: Priors,
    readonly scales: Scales,
    readonly point: Point,
  ) {
    const { cells, parts, width } = trials;
    const { size } = placesOf(trials);
    this.gradient = { effects: new Float64Array(size), deviation: new Float64Array(cells.count) };
    this.bend = new Float64Array(cells.count);
    this.cross = new Float64Array(cells.count * width);
    this.lead = new Float64Array(parts.count);
    this.third = new Float64Array(parts.count * width);
    this.studentBend = new Float64Array(trials.students.length);
    const matrix = new Float64Array(size * size);
    this.sum(matrix);
    this.penalise(matrix);
    this.factor = cholesky(matrix, size);
  }

  /** Adds every trial to the gradient and to the lower half of the matrix, and eliminates each cell's deviation. */
  private sum(matrix: Float64Array): void {
    const { trials, bend, cross, lead, third } = this;
    const { cells, parts, width, features } = trials;
    const { effects, deviation } = this.point;
    const gradient = this.gradient.effects;
    const { level, student: firstStudent, size, fall } = placesOf(trials);
    const precision = this.scales.deviation ** -2;
    const sums = newSums(trials);
    // All but the first are the same for every cell.
    const coefficients = new Float64Array(features);
    coefficients.set(effects.subarray(level, level + features - 1), 1);
    const byDose = fall === null ? 0 : effects[fall]!;
    for (let cell = 0; cell < cells.count; cell++) {
      const student = firstStudent + cells.student[cell]!;
      const studentRow = student * size;
      const own = deviation[cell]!;
      const [from, to, at] = [cells.start[cell]!, cells.start[cell + 1]!, cell * width];
      let slope = -precision * own;
      for (let part = from; part < to; part++) {
        const checkpoint = parts.checkpoint[part]!;
        coefficients[0] = effects[checkpoint]! + effects[student]! + own;
        sumsOver(trials, part, coefficients, byDose, sums);
        third.set(sums.third, part * width);
        const first = sums.curvature[0]!;
        lead[part] = first;
        slope += sums.gradient[0]!;
        gradient[checkpoint]! += sums.gradient[0]!;
        gradient[student]! += sums.gradient[0]!;
        matrix[checkpoint * size + checkpoint]! += first;
        matrix[studentRow + checkpoint]! += first;
        matrix[studentRow + student]! += first;
        cross[at]! += first;
        for (let i = 1; i < width; i++) {
          const one = sums.curvature[i]!;
          const row = (level + i - 1) * size;
          gradient[level + i - 1]! += sums.gradient[i]!;
          cross[at + i]! += one;
          matrix[row + checkpoint]! += one;
          matrix[studentRow + level + i - 1]! += one;
          for (let k = 1; k <= i; k++) matrix[row + level + k - 1]! += sums.curvature[k * width + i]!;
        }
      }
      this.gradient.deviation[cell] = slope;
      const h = precision + cross[at]!;
      bend[cell] = h;
      // The deviation that they share ties a piece's checkpoints to each other.
      for (let part = from; part < to; part++) {
        const row = parts.checkpoint[part]! * size;
        const share = lead[part]! / h;
        for (let other = from; other <= part; other++)
          matrix[row + parts.checkpoint[other]!]! -= share * lead[other]!;
        matrix[studentRow + parts.checkpoint[part]!]! -= share * cross[at]!;
        for (let i = 1; i < width; i++)
          matrix[(level + i - 1) * size + parts.checkpoint[part]!]! -= share * cross[at + i]!;
      }
      matrix[studentRow + student]! -= cross[at]! ** 2 / h;
      for (let i = 1; i < width; i++) {
        const share = cross[at + i]! / h;
        if (share === 0) continue;
        matrix[studentRow + level + i - 1]! -= share * cross[at]!;
        for (let k = 1; k <= i; k++)
          matrix[(level + i - 1) * size + level + k - 1]! -= share * cross[at + k]!;
      }
    }
  }

  private penalise(matrix: Float64Array): void {
    const { trials, priors, scales, studentBend } = this;
    const { level, off, mass, fall, student, size } = placesOf(trials);
    const penalise = (place: number, mean: number, weight: number) => {
      this.gradient.effects[place]! -= weight * (this.point.effects[place]! - mean);
      matrix[place * size + place]! += weight;
    };
    for (let i = 0; i < level; i++) penalise(i, priors.checkpoint.mean, priors.checkpoint.precision);
    trials.levels.forEach((one, i) =>
      penalise(level + i, priors.level.step * (one - trials.reference), priors.level.precision),
    );
    penalise(off, 0, priors.off);
    penalise(mass, 0, priors.mass);
    if (fall !== null) penalise(fall, priors.fall.mean, priors.fall.precision);
    for (let i = 0; i < studentBend.length; i++) {
      penalise(student + i, 0, scales.student ** -2);
      // A student meets no other student in any trial, so this block is diagonal.
      studentBend[i] = matrix[(student + i) * (size + 1)]!;
    }
    // Where nothing varies, a flat prior leaves a row of zeros: the effect stays where it is.
    for (let i = 0; i < size; i++) if (matrix[i * (size + 1)] === 0) matrix[i * (size + 1)] = 1;
  }

  /** J⁻¹ of a direction, J the full curvature. */
  private solved(right: Point): Point {
    const { trials, bend, cross, lead, factor } = this;
    const { cells, parts, width } = trials;
    const { level, student } = placesOf(trials);
    const effects = Float64Array.from(right.effects);
    const deviation = new Float64Array(cells.count);
    for (let cell = 0; cell < cells.count; cell++) {
      const share = right.deviation[cell]! / bend[cell]!;
      if (share === 0) continue;
      const at = cell * width;
      effects[student + cells.student[cell]!]! -= share * cross[at]!;
      for (let part = cells.start[cell]!; part < cells.start[cell + 1]!; part++)
        effects[parts.checkpoint[part]!]! -= share * lead[part]!;
      for (let i = 1; i < width; i++) effects[level + i - 1]! -= share * cross[at + i]!;
    }
    solve(factor, effects);
    for (let cell = 0; cell < cells.count; cell++) {
      const at = cell * width;
      let shared = cross[at]! * effects[student + cells.student[cell]!]!;
      for (let part = cells.start[cell]!; part < cells.start[cell + 1]!; part++)
        shared += lead[part]! * effects[parts.checkpoint[part]!]!;
      for (let i = 1; i < width; i++) shared += cross[at + i]! * effects[level + i - 1]!;
      deviation[cell] = (right.deviation[cell]! - shared) / bend[cell]!;
    }
    return { effects, deviation };
  }

  /** The Newton step. */
  newton(): Point {
    return this.solved(this.gradient);
  }

  /**
   * The slopes of the Laplace-approximated log marginal by ln ω and ln τ, without a prior on them, right where the point is the mode. With
   * a = 1/h + κ²/A the variance of a cell's logit and v = 1/h + (1 − κ)²/A that of its deviation s and d being a student's effect and a
   * deviation, q = Σ a·w′ over the features, and u the way the mode follows:
   * ∂/∂ln ω = Σ [Q(s² + 1/A) − 1] − q·u/2, ∂/∂ln τ = Σ [P(d² + v) − 1] − q·u/2.
   */
  slopes(): Slopes {
    const { trials, bend, cross, third, studentBend, scales } = this;
    const { cells, parts, width, students } = trials;
    const { level, student: firstStudent, size } = placesOf(trials);
    const { effects, deviation } = this.point;
    const [P, Q] = [scales.deviation ** -2, scales.student ** -2];
    const q: Point = { effects: new Float64Array(size), deviation: new Float64Array(cells.count) };
    const pull = [0, 1].map(() => ({
      effects: new Float64Array(size),
      deviation: new Float64Array(cells.count),
    })) as [Point, Point];
    let [byStudent, byDeviation, both, deviations] = [0, 0, 0, 0];
    // Σρ² and Σρ⁴ of each student, ρ = 1 − κ.
    const [squares, fourths] = [new Float64Array(students.length), new Float64Array(students.length)];
    for (let cell = 0; cell < cells.count; cell++) {
      const s = cells.student[cell]!;
      const [h, A, d] = [bend[cell]!, studentBend[s]!, deviation[cell]!];
      const kept = P / h;
      const rho = cross[cell * width]! / h;
      const a = 1 / h + kept ** 2 / A;
      const v = 1 / h + rho ** 2 / A;
      byDeviation += P * (d * d + v) - 1;
      deviations += (1 - P * v) ** 2;
      squares[s]! += rho ** 2;
      fourths[s]! += rho ** 4;
      pull[1].deviation[cell] = 2 * P * d;
      for (let part = cells.start[cell]!; part < cells.start[cell + 1]!; part++) {
        const one = a * third[part * width]!;
        q.effects[parts.checkpoint[part]!]! += one;
        q.effects[firstStudent + s]! += one;
        q.deviation[cell]! += one;
        for (let i = 1; i < width; i++) q.effects[level + i - 1]! += a * third[part * width + i]!;
      }
    }
    let [ofStudents, more] = [0, 0];
    for (let s = 0; s < students.length; s++) {
      const [A, effect] = [studentBend[s]!, effects[firstStudent + s]!];
      byStudent += Q * (effect * effect + 1 / A) - 1;
      ofStudents += (1 - Q / A) ** 2;
      both += squares[s]! / A ** 2;
      more += (squares[s]! ** 2 - fourths[s]!) / A ** 2;
      pull[0].effects[firstStudent + s] = 2 * Q * effect;
    }
    const follows: [Point, Point] = [this.solved(pull[0]), this.solved(pull[1])];
    return {
      slope: [byStudent - along(q, follows[0]) / 2, byDeviation - along(q, follows[1]) / 2],
      fisher: [2 * ofStudents, 2 * P * Q * both, 2 * deviations + 2 * P * P * more],
      follows,
    };
  }

  /** The Laplace-approximated log marginal, up to the constants of the fixed priors. */
  logMarginal(): number {
    const { trials, priors, scales, bend, studentBend } = this;
    const { cells, parts, runs, width, features, mass, doses, reached } = trials;
    const { level, off, mass: byMass, fall, student } = placesOf(trials);
    const { effects, deviation } = this.point;
    const [P, Q] = [scales.deviation ** -2, scales.student ** -2];
    const square = (place: number, mean = 0) => (effects[place]! - mean) ** 2;
    let sum = 0;
    for (let i = 0; i < level; i++) sum -= priors.checkpoint.precision * square(i, priors.checkpoint.mean);
    trials.levels.forEach((one, i) => {
      sum -= priors.level.precision * square(level + i, priors.level.step * (one - trials.reference));
    });
    sum -= priors.off * square(off) + priors.mass * square(byMass);
    if (fall !== null) sum -= priors.fall.precision * square(fall, priors.fall.mean);
    studentBend.forEach((A, s) => (sum -= Q * square(student + s) + Math.log(A / Q)));
    bend.forEach((h, cell) => (sum -= P * deviation[cell]! ** 2 + Math.log(h / P)));
    sum /= 2;
    for (let cell = 0; cell < cells.count; cell++)
      for (let part = cells.start[cell]!; part < cells.start[cell + 1]!; part++) {
        const own =
          effects[parts.checkpoint[part]!]! + effects[student + cells.student[cell]!]! + deviation[cell]!;
        sum += own * parts.failed[part * width]!;
        for (let i = 1; i < width; i++) sum += effects[level + i - 1]! * parts.failed[part * width + i]!;
        for (let run = parts.start[part]!; run < parts.start[part + 1]!; run++) {
          const at = runs.level[run]!;
          const base = own + (at > 0 ? effects[level + at - 1]! : 0) + effects[off]! * runs.off[run]!;
          for (let row = runs.start[run]!; row < runs.start[run + 1]!; row++) {
            const x =
              base + effects[byMass]! * mass[row]! - (width > features ? effects[fall!]! * doses[row]! : 0);
            sum -= reached[row]! * (Math.max(x, 0) + Math.log1p(Math.exp(-Math.abs(x))));
          }
        }
      }
    return sum;
  }
}
