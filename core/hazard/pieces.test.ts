import { describe, expect, test } from '@jest/globals';
import { randomLcg } from 'd3-random';
import { cholesky } from '../math';
import { logMarginalOf, modeAt, modelPriors, placesOf, Posterior, type TrialRow, trialsOf } from '.';

const scales = { student: 0.45, deviation: 0.6 };
const chance = randomLcg(0.4);
/** Three techniques, of which the second checkpoint of each is the same piece; somebody has not met all of them. */
const rows = ['a', 'b', 'c', 'd'].flatMap((student) =>
  ['x', 'y', 'z'].flatMap((technique) =>
    student === 'd' && technique === 'z'
      ? []
      : ['1', '2'].flatMap((checkpoint) =>
          [1, 2, 3].map((level): TrialRow => {
            const reached = 2 + Math.floor(9 * chance());
            return {
              student,
              checkpoint: `${technique}/${checkpoint}`,
              piece: checkpoint === '2' ? 'grip' : undefined,
              level,
              off: chance() < 0.5 ? 0 : 1,
              mass: chance() - 0.5,
              reached,
              failed: Math.floor((reached + 1) * chance() * 0.7),
            };
          }),
        ),
  ),
);
const pieceOf = ({ piece, checkpoint }: TrialRow) => piece ?? checkpoint;

describe('checkpoints that are the same piece', () => {
  const trials = trialsOf(rows, 2);
  const places = placesOf(trials);
  const mode = modeAt(trials, modelPriors, scales);
  const cellOf = (row: TrialRow) => {
    const [student, piece] = [trials.students.indexOf(row.student), trials.pieces.indexOf(pieceOf(row))];
    return [...trials.cells.student].findIndex(
      (one, i) => one === student && trials.cells.piece[i] === piece,
    );
  };
  const effectsOf = (row: TrialRow): [number, number][] => [
    [trials.checkpoints.indexOf(row.checkpoint), 1],
    ...(row.level === 2 ? [] : [[places.level + trials.levels.indexOf(row.level), 1] as [number, number]]),
    [places.off, row.off],
    [places.mass, row.mass],
    [places.student + trials.students.indexOf(row.student), 1],
    [places.size + cellOf(row), 1],
  ];
  const size = places.size + trials.cells.count;
  const normal = (x: number, mean: number, precision: number) => -(precision * (x - mean) ** 2) / 2;
  const { checkpoint, level, off, mass } = modelPriors;
  /** The model written down as it is said, row by row: log-likelihood and priors of all effects and deviations at once. */
  const logPosterior = (all: readonly number[]): number => {
    let sum = 0;
    for (const row of rows) {
      const x = effectsOf(row).reduce((total, [place, value]) => total + all[place]! * value, 0);
      sum += row.failed * x - row.reached * Math.log1p(Math.exp(x));
    }
    all.forEach((x, i) => {
      if (i < places.level) sum += normal(x, checkpoint.mean, checkpoint.precision);
      else if (i < places.off)
        sum += normal(x, level.step * (trials.levels[i - places.level]! - 2), level.precision);
      else if (i === places.off) sum += normal(x, 0, off);
      else if (i === places.mass) sum += normal(x, 0, mass);
      else sum += normal(x, 0, (i < places.size ? scales.student : scales.deviation) ** -2);
    });
    return sum;
  };
  const at = [...mode.effects, ...mode.deviation];

  test('have one deviation a student, in however many techniques', () => {
    // Six checkpoints for three students and four for the fourth, of which one deviation is of the piece.
    expect(trials.parts.count).toBe(3 * 6 + 4);
    expect(trials.cells.count).toBe(3 * 4 + 3);
  });

  test('are at the mode of the model as it is said: no effect can be moved to make it likelier', () => {
    const step = 1e-5;
    at.forEach((_, i) => {
      const moved = (by: number) => logPosterior(at.map((x, k) => (k === i ? x + by : x)));
      expect(Math.abs((moved(step) - moved(-step)) / (2 * step))).toBeLessThan(1e-4);
    });
  });

  test('cost the marginal likelihood what the curvature over students and deviations says', () => {
    const hessian = new Float64Array(size * size);
    for (const row of rows) {
      const own = effectsOf(row);
      const x = own.reduce((total, [place, value]) => total + at[place]! * value, 0);
      const p = 1 / (1 + Math.exp(-x));
      for (const [i, u] of own)
        for (const [k, v] of own) hessian[i * size + k]! += row.reached * p * (1 - p) * u * v;
    }
    const from = places.student;
    const n = size - from;
    const precision = (i: number) => (from + i < places.size ? scales.student : scales.deviation) ** -2;
    const block = Float64Array.from({ length: n * n }, (_, at) => {
      const [i, k] = [Math.floor(at / n), at % n];
      return hessian[(from + i) * size + from + k]! + (i === k ? precision(i) : 0);
    });
    const { lower } = cholesky(block, n);
    let logDeterminant = 0;
    for (let i = 0; i < n; i++) logDeterminant += 2 * Math.log(lower[i * n + i]!) - Math.log(precision(i));
    expect(logMarginalOf(mode)).toBeCloseTo(logPosterior(at) - logDeterminant / 2, 6);
  });

  test('tell of each other: what one is seen to lose in one technique, one is thought to lose in another', () => {
    const one = (student: string, checkpoint: string, reached: number, failed: number, piece?: string) => ({
      ...{ student, checkpoint, reached, failed, piece },
      ...{ level: 2, off: 0, mass: 0 },
    });
    const squad = ['b', 'c', 'd', 'e'].flatMap((s) => [one(s, 'x/2', 30, 6, 'p'), one(s, 'y/2', 30, 6, 'p')]);
    const seen = [...squad, one('a', 'x/2', 40, 28, 'p')];
    const look = (list: TrialRow[], piece?: string) =>
      new Posterior(modeAt(trialsOf(list, 2), modelPriors, scales)).closer('a', 'y/2', piece);
    const apart = seen.map((row) => ({ ...row, piece: undefined }));
    // Neither has a rep of the student there.
    expect(look(seen, 'p').mean[0]! - look(apart).mean[0]!).toBeGreaterThan(0.6);
    expect(look(seen, 'p').covariance[0]!).toBeLessThan(0.6 * look(apart).covariance[0]!);
    // Also where nobody has tried that technique yet.
    const untried = seen.filter((row) => row.checkpoint !== 'y/2');
    expect(look(untried, 'p').mean[0]!).toBeGreaterThan(look(untried).mean[0]! + 0.6);
  });

  test('are drawn as their covariance says', () => {
    const posterior = new Posterior(mode);
    for (const [student, name] of [
      ['a', 'x/2'],
      ['d', 'z/2'],
      ['d', 'never tried'],
      ['never seen', 'x/2'],
    ] as const) {
      const closer = posterior.closer(student, name, name === 'x/2' || name === 'z/2' ? 'grip' : undefined);
      const n = closer.mean.length;
      const drawn = posterior.drawCloser(closer, posterior.draws(6000, 0.3));
      const firsts = Array.from({ length: 6000 }, (_, i) => drawn[i * n]! - closer.mean[0]!);
      const variance = firsts.reduce((sum, x) => sum + x * x, 0) / firsts.length;
      expect(Math.abs(variance / closer.covariance[0]! - 1)).toBeLessThan(0.1);
    }
  });
});
