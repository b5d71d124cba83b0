import { randomLcg, randomNormal } from 'd3-random';
import { type Cholesky, cholesky, solve, solveLower, solveUpper } from '../math';
import type { Mode } from './mode';
import { newSums, sumsOver } from './sums';
import { placesOf } from './survey';

/**
 * How far a student may differ from the room in what a rung, a side or a partner's mass does to one checkpoint: standard
 * deviation in logits. An assumption, wide enough to follow some twenty reps and narrow enough to ignore two.
 */
const contrastScale = 0.7;

/** Conditions under which a rep is done, as the model's features see them. */
export interface Condition {
  level: number;
  off: number;
  mass: number;
}

/**
 * One student at one checkpoint, looked at closely: normal coefficients of the features (1, levels, off, mass), with room
 * for this student to differ from the room in each. `free` is what is left of them when the shared effects are known, and
 * `unseen` the deviation of what no trial has told of the first; `pulls` is how they follow the shared effects.
 */
export interface Closer {
  mean: Float64Array;
  covariance: Float64Array;
  free: Cholesky;
  unseen: number;
  pulls: readonly Pull[];
}

/** What each coefficient adds for one that a shared effect adds. */
interface Pull {
  place: number;
  column: Float64Array;
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
  private readonly pieceAt: ReadonlyMap<string, number>;
  private readonly cellAt = new Map<number, number>();

  constructor(readonly mode: Mode) {
    const { students, checkpoints, pieces, cells } = mode.trials;
    this.studentAt = new Map(students.map((id, i) => [id, i]));
    this.checkpointAt = new Map(checkpoints.map((id, i) => [id, i]));
    this.pieceAt = new Map(pieces.map((id, i) => [id, i]));
    for (let cell = 0; cell < cells.count; cell++)
      this.cellAt.set(cells.student[cell]! * pieces.length + cells.piece[cell]!, cell);
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

  /** The coefficients of a student at a checkpoint, by Newton steps in that cell alone, given the shared effects. */
  closer(student: string, checkpoint: string, piece = checkpoint): Closer {
    const { trials, effects, factor, scales, priors } = this.mode;
    const { parts, cells } = trials;
    const n = trials.features;
    const places = placesOf(trials);
    const s = this.studentAt.get(student);
    const c = this.checkpointAt.get(checkpoint);
    const p = this.pieceAt.get(piece);
    const cell =
      s === undefined || p === undefined ? undefined : this.cellAt.get(s * trials.pieces.length + p);
    const [from, to] = cell === undefined ? [0, 0] : [cells.start[cell]!, cells.start[cell + 1]!];
    // What all parts have in common; each has the effect of its checkpoint besides.
    const common = new Float64Array(n);
    if (s !== undefined) common[0] = effects[places.student + s]!;
    common.set(effects.subarray(places.level, places.level + n - 1), 1);
    // A student or checkpoint without a trial is as its prior says, and independent of everything else.
    const { mean, precision: sure } = priors.checkpoint;
    const unseen = (c === undefined ? 1 / sure : 0) + (s === undefined ? scales.student ** 2 : 0);
    const precision = Float64Array.from({ length: n }, (_, i) =>
      i === 0 ? scales.deviation ** -2 : contrastScale ** -2,
    );
    const sums = newSums(trials);
    const gradient = new Float64Array(n);
    const curvature = new Float64Array(n * n);
    const firsts = Array.from({ length: to - from }, () => new Float64Array(n));
    const own = new Float64Array(n);
    const hessian = new Float64Array(n * n);
    let local!: Cholesky;
    for (let step = 0; step < 25; step++) {
      gradient.fill(0);
      curvature.fill(0);
      for (let part = from; part < to; part++) {
        const here = common.map((x, i) => x + own[i]!);
        here[0]! += effects[parts.checkpoint[part]!]!;
        sumsOver(trials, part, here, scales.fall, sums);
        for (let i = 0; i < n; i++) {
          gradient[i]! += sums.gradient[i]!;
          for (let k = i; k < n; k++) curvature[i * n + k]! += sums.curvature[i * trials.width + k]!;
        }
        firsts[part - from]!.set(sums.curvature.subarray(0, n));
      }
      for (let i = 0; i < n; i++)
        for (let k = 0; k <= i; k++)
          hessian[i * n + k] = curvature[k * n + i]! + (i === k ? precision[i]! : 0);
      local = cholesky(hessian, n);
      const right = Float64Array.from(own, (x, i) => gradient[i]! - precision[i]! * x);
      const move = solve(local, right);
      const size = Math.max(...move.map(Math.abs));
      // A step in logits of more than two is a step into the flat of the curve.
      own.forEach((_, i) => (own[i]! += move[i]! * Math.min(1, 2 / Math.max(size, 1e-12))));
      if (size < 1e-7) break;
    }
    // coefficients = own + shared, and own follows the shared ones by −H⁻¹G: what is common to all parts they follow by H⁻¹P,
    // the checkpoint looked at by 1 − H⁻¹G of its part, and that of another part by −H⁻¹G of that one.
    const pulls: Pull[] = [];
    for (let k = 0; k < n; k++) {
      const place = k > 0 ? places.level + k - 1 : s === undefined ? null : places.student + s;
      if (place === null) continue;
      const column = new Float64Array(n);
      column[k] = precision[k]!;
      pulls.push({ place, column: solve(local, column) });
    }
    let told = false;
    for (let part = from; part < to; part++) {
      const place = parts.checkpoint[part]!;
      const column = solve(local, firsts[part - from]!.slice()).map((x) => -x);
      if (place === c) column[0]! += 1;
      told ||= place === c;
      pulls.push({ place, column });
    }
    if (c !== undefined && !told) pulls.push({ place: c, column: unit(n, 0) });
    const covariance = new Float64Array(n * n);
    for (let k = 0; k < n; k++) {
      const column = solve(local, unit(n, k));
      for (let i = 0; i < n; i++) covariance[i * n + k]! += column[i]!;
    }
    const lifted = Array.from({ length: n }, (_, i) => {
      const row = new Float64Array(factor.size);
      for (const { place, column } of pulls) row[place]! += column[i]!;
      return solveLower(factor, row);
    });
    for (let i = 0; i < n; i++)
      for (let k = 0; k < n; k++)
        for (let at = 0; at < factor.size; at++) covariance[i * n + k]! += lifted[i]![at]! * lifted[k]![at]!;
    covariance[0]! += unseen;
    const base = common.map((x, i) => x + own[i]!);
    base[0]! += c === undefined ? mean : effects[c]!;
    return { mean: base, covariance, free: local, unseen: Math.sqrt(unseen), pulls };
  }

  /** Draws of the coefficients, row after row in one list, a row of `features` for each draw of the shared effects. */
  drawCloser({ mean, free, unseen, pulls }: Closer, { rows, normal }: SharedDraws): Float64Array {
    const n = mean.length;
    const drawn = new Float64Array(rows.length * n);
    const own = new Float64Array(n);
    const places = Int32Array.from(pulls, ({ place }) => place);
    const columns = new Float64Array(pulls.length * n);
    for (let pull = 0; pull < pulls.length; pull++) columns.set(pulls[pull]!.column, pull * n);
    for (let draw = 0; draw < rows.length; draw++) {
      const shared = rows[draw]!;
      for (let i = 0; i < n; i++) own[i] = normal();
      solveUpper(free, own);
      if (unseen > 0) own[0]! += unseen * normal();
      for (let pull = 0; pull < places.length; pull++) {
        const by = shared[places[pull]!]!;
        for (let i = 0; i < n; i++) own[i]! += columns[pull * n + i]! * by;
      }
      for (let i = 0; i < n; i++) drawn[draw * n + i] = mean[i]! + own[i]!;
    }
    return drawn;
  }
}

const unit = (n: number, at: number): Float64Array => {
  const column = new Float64Array(n);
  column[at] = 1;
  return column;
};
