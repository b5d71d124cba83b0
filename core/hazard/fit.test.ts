import { describe, expect, test } from '@jest/globals';
import { randomLcg } from 'd3-random';
import { finished, fit, logMarginalOf, modeAt, modelPriors, type Scales, type TrialRow, trialsOf } from '.';
import { Survey } from './survey';

interface Room {
  students?: number;
  checkpoints?: number;
  rows?: number;
  /** The chance that a trial fails, where it is always the same. */
  always?: 0 | 1;
  /** Somebody never fails, and everybody fails above the second level. */
  parted?: boolean;
  pieces?: boolean;
  levels?: number;
  weighted?: boolean;
  dosed?: boolean;
}

/** Made-up trials of a room; some of everything by default. */
function room(seed: number, of: Room): TrialRow[] {
  const { students = 6, checkpoints = 5, rows = 60, levels = 3, always } = of;
  const chance = randomLcg(seed);
  const upTo = (n: number) => Math.floor(chance() * n);
  const own = Array.from({ length: students * checkpoints }, () => 2 * chance() - 1);
  return Array.from({ length: rows }, (): TrialRow => {
    const [s, c, level] = [upTo(students), upTo(checkpoints), 1 + upTo(levels)];
    const doses = of.dosed ? upTo(5) : 0;
    const reached = of.weighted ? 0.1 + 5 * chance() : 1 + upTo(5);
    const p = 1 / (1 + Math.exp(1.2 - own[s * checkpoints + c]! - 0.4 * (level - 2) - 0.3 * doses));
    const some = Array.from({ length: Math.floor(reached) }, () => chance() < p).filter(Boolean).length;
    const parted = of.parted && (s === 0 || level > 2);
    return {
      student: `s${s}`,
      checkpoint: `c${c}`,
      piece: of.pieces && c % 2 === 0 ? 'grip' : undefined,
      level,
      off: upTo(2),
      mass: chance() - 0.5,
      doses,
      reached,
      failed: parted ? (s === 0 ? 0 : reached) : always === undefined ? some : always * reached,
    };
  });
}

const rooms: Record<string, Room> = {
  'of all sorts': {},
  'of one student': { students: 1 },
  'of one checkpoint': { checkpoints: 1 },
  'of one trial': { students: 1, checkpoints: 1, rows: 1 },
  'where all failed': { always: 1 },
  'where none failed': { always: 0 },
  'where somebody never fails': { parted: true },
  'with pieces': { pieces: true, students: 9, rows: 150 },
  'of one level': { levels: 1 },
  'with aged reps': { weighted: true },
  'that has drilled': { dosed: true, rows: 200 },
};
const seeds = [0.11, 0.37, 0.72];
const each = Object.entries(rooms).flatMap(([name, of]) =>
  seeds.map((seed) => ({ name, trials: trialsOf(room(seed, of), 2) })),
);

describe('the fit of a room', () => {
  test('goes by the slopes of the log marginal, which are those of small differences', () => {
    const at: Scales = { student: 0.8, deviation: 0.55 };
    const small = 1e-4;
    for (const { name, trials } of each) {
      const marginal = (by: [number, number]) =>
        logMarginalOf(
          modeAt(
            trials,
            modelPriors,
            { student: at.student * Math.exp(by[0]), deviation: at.deviation * Math.exp(by[1]) },
            1e-14,
          ),
        );
      const { slope } = new Survey(trials, modelPriors, at, modeAt(trials, modelPriors, at, 1e-14)).slopes();
      const differences = [
        (marginal([small, 0]) - marginal([-small, 0])) / (2 * small),
        (marginal([0, small]) - marginal([0, -small])) / (2 * small),
      ];
      differences.forEach((one, i) => expect([name, Math.abs(one - slope[i]!) < 1e-5]).toEqual([name, true]));
    }
  });

  test('ends soon and where no scale nearby is likelier, however odd the room', () => {
    const { usual, spread } = modelPriors.scales!;
    for (const { name, trials } of each) {
      const steps = fit(trials, modelPriors);
      let taken = 0;
      let step = steps.next();
      for (; !step.done; step = steps.next()) taken++;
      expect([name, taken < 40]).toEqual([name, true]);
      const { scales } = step.value;
      const likely = (student: number, deviation: number) =>
        logMarginalOf(modeAt(trials, modelPriors, { student, deviation }, 1e-12)) -
        (Math.log(student / usual.student) ** 2 + Math.log(deviation / usual.deviation) ** 2) /
          (2 * spread ** 2);
      // A dose makes nobody worse: where it seemed to, the rest is fitted to one that does nothing.
      if (scales.fall > -1e-6) continue;
      const best = likely(scales.student, scales.deviation);
      for (const [a, b] of [
        [1.03, 1],
        [1 / 1.03, 1],
        [1, 1.03],
        [1, 1 / 1.03],
      ] as const)
        expect([name, likely(scales.student * a, scales.deviation * b) < best]).toEqual([name, true]);
    }
  });

  test('is the same wherever the search begins', () => {
    for (const { name, trials } of each) {
      const from = (start: Scales) => finished(fit(trials, modelPriors, { start, tolerance: 1e-5 })).scales;
      const [one, other] = [from({ student: 0.5, deviation: 0.7 }), from({ student: 2.5, deviation: 0.1 })];
      expect([name, one.student, one.deviation]).toEqual([
        name,
        expect.closeTo(other.student, 4),
        expect.closeTo(other.deviation, 4),
      ]);
    }
  });
});
