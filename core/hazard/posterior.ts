import { randomLcg, randomNormal } from 'd3-random';
import { type Cholesky, cholesky, solve, solveLower, solveUpper } from '../math';
import { fallAt, type Mode, newPass, passOver, placesOf } from './mode';

/**
 * How far a student may differ from the room in what a rung, a side or a partner's mass does to one checkpoint: standard
 * deviation in logits. An assumption, wide enough to follow some twenty reps and narrow enough to ignore two.
 */
export const contrastScale = 0.7;

/** Conditions under which a rep is done, as the model's features see them. */
export interface Condition {
  level: number;
  off: number;
  mass: number;
}

/**
 * One student at one checkpoint, looked at closely: normal coefficients of the features (1, levels, off, mass), with room
 * for this student to differ from the room in each. `free` is what is left of them when the shared effects are known;
 * `pull` is how they follow the shared effects.
 */
export interface Closer {
  mean: Float64Array;
  covariance: Float64Array;
  free: Cholesky;
  pull: Float64Array;
}

/** Draws of the shared effects, one row a draw, of the seeded kind that always comes out the same. */
export interface SharedDraws {
  rows: Float64Array[];
  normal: () => number;
}

/** The posterior of a fitted model: what it says of any student at any checkpoint, and of those it has never seen. */
export class Posterior {
  private readonly studentAt: ReadonlyMap<string, number>;
  private readonly checkpointAt: ReadonlyMap<string, number>;
  private readonly cellAt = new Map<number, number>();

  constructor(readonly mode: Mode) {
    const { students, checkpoints, cells } = mode.trials;
    this.studentAt = new Map(students.map((id, i) => [id, i]));
    this.checkpointAt = new Map(checkpoints.map((id, i) => [id, i]));
    for (let cell = 0; cell < cells.count; cell++)
      this.cellAt.set(cells.student[cell]! * checkpoints.length + cells.checkpoint[cell]!, cell);
  }

  /** Features of a condition. Throws RangeError for a level that the model does not have. */
  features({ level, off, mass }: Condition): Float64Array {
    const { levels, reference, features } = this.mode.trials;
    const row = new Float64Array(features);
    row[0] = 1;
    const at = levels.indexOf(level);
    if (at >= 0) row[1 + at] = 1;
    else if (level !== reference) throw new RangeError(`the model has no level ${level}`);
    row[features - 2] = off;
    row[features - 1] = mass;
    return row;
  }

  /** Draws of checkpoints, levels, off, mass and students together, less their mode. */
  draws(n: number, seed: number): SharedDraws {
    const normal = randomNormal.source(randomLcg(seed))(0, 1);
    const { factor } = this.mode;
    const rows = Array.from({ length: n }, () =>
      solveUpper(factor, Float64Array.from({ length: factor.size }, normal)),
    );
    return { rows, normal };
  }

  /** Rows of the vector of effects that the features of a student at a checkpoint add up, and what no trial has told. */
  private shared(student: string, checkpoint: string) {
    const { mode } = this;
    const places = placesOf(mode.trials);
    const s = this.studentAt.get(student);
    const c = this.checkpointAt.get(checkpoint);
    const first = [...(c === undefined ? [] : [c]), ...(s === undefined ? [] : [places.student + s])];
    const rows = [first, ...Array.from({ length: mode.trials.features - 1 }, (_, i) => [places.level + i])];
    // A student or checkpoint without a trial is as its prior says, and independent of everything else.
    const { mean, precision } = mode.priors.checkpoint;
    const unseen = {
      mean: c === undefined ? mean : 0,
      variance: (c === undefined ? 1 / precision : 0) + (s === undefined ? mode.scales.student ** 2 : 0),
    };
    return { s, c, rows, unseen };
  }

  /** The coefficients of a student at a checkpoint, by Newton steps in that cell alone, given the shared effects. */
  closer(student: string, checkpoint: string): Closer {
    const { trials, effects, factor, scales } = this.mode;
    const n = trials.features;
    const { s, c, rows, unseen } = this.shared(student, checkpoint);
    const base = new Float64Array(n);
    rows.forEach((places, i) => places.forEach((place) => (base[i]! += effects[place]!)));
    base[0]! += unseen.mean;
    const precision = Float64Array.from({ length: n }, (_, i) =>
      i === 0 ? 1 / (scales.deviation ** 2 + unseen.variance) : contrastScale ** -2,
    );
    const cell =
      s === undefined || c === undefined ? undefined : this.cellAt.get(s * trials.checkpoints.length + c);
    const pass = newPass(trials);
    const own = new Float64Array(n);
    const hessian = new Float64Array(n * n);
    let local!: Cholesky;
    for (let step = 0; step < 25; step++) {
      if (cell !== undefined)
        passOver(
          trials,
          cell,
          base.map((x, i) => x + own[i]!),
          fallAt(this.mode.priors, scales),
          pass,
        );
      for (let i = 0; i < n; i++)
        for (let k = 0; k <= i; k++)
          hessian[i * n + k] = pass.curvature[k * n + i]! + (i === k ? precision[i]! : 0);
      local = cholesky(hessian, n);
      const right = Float64Array.from(own, (x, i) => pass.gradient[i]! - precision[i]! * x);
      const move = solve(local, right);
      const size = Math.max(...move.map(Math.abs));
      // A step in logits of more than two is a step into the flat of the curve.
      own.forEach((_, i) => (own[i]! += move[i]! * Math.min(1, 2 / Math.max(size, 1e-12))));
      if (size < 1e-7) break;
    }
    // coefficients = own + shared, and own follows the shared ones by −H⁻¹G: together they follow by H⁻¹P.
    const pull = new Float64Array(n * n);
    for (let k = 0; k < n; k++) {
      const column = new Float64Array(n);
      column[k] = precision[k]!;
      solve(local, column);
      for (let i = 0; i < n; i++) pull[i * n + k] = column[i]!;
    }
    const covariance = new Float64Array(n * n);
    for (let k = 0; k < n; k++) {
      const unit = new Float64Array(n);
      unit[k] = 1;
      solve(local, unit);
      for (let i = 0; i < n; i++) covariance[i * n + k]! += unit[i]!;
    }
    const lifted = Array.from({ length: n }, (_, i) => {
      const row = new Float64Array(factor.size);
      for (let k = 0; k < n; k++) for (const place of rows[k]!) row[place]! += pull[i * n + k]!;
      return solveLower(factor, row);
    });
    for (let i = 0; i < n; i++)
      for (let k = 0; k < n; k++)
        for (let at = 0; at < factor.size; at++) covariance[i * n + k]! += lifted[i]![at]! * lifted[k]![at]!;
    return { mean: base.map((x, i) => x + own[i]!), covariance, free: local, pull };
  }

  /** Draws of the coefficients, row after row in one list, a row of `features` for each draw of the shared effects. */
  drawCloser(
    student: string,
    checkpoint: string,
    closer: Closer,
    { rows, normal }: SharedDraws,
  ): Float64Array {
    const n = this.mode.trials.features;
    const { rows: places } = this.shared(student, checkpoint);
    const drawn = new Float64Array(rows.length * n);
    const away = new Float64Array(n);
    const own = new Float64Array(n);
    rows.forEach((shared, draw) => {
      for (let i = 0; i < n; i++) own[i] = normal();
      solveUpper(closer.free, own);
      for (let k = 0; k < n; k++) {
        away[k] = 0;
        for (const place of places[k]!) away[k]! += shared[place]!;
      }
      for (let i = 0; i < n; i++) {
        let sum = own[i]! + closer.mean[i]!;
        for (let k = 0; k < n; k++) sum += closer.pull[i * n + k]! * away[k]!;
        drawn[draw * n + i] = sum;
      }
    });
    return drawn;
  }
}
