import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import reference from '../test/reading-mixed-model.json' with { type: 'json' };
import {
  finished,
  fit,
  flatPriors,
  logMarginalOf,
  modeAt,
  modelPriors,
  placesOf,
  Posterior,
  type TrialRow,
  trialsOf,
} from '.';

const rows = reference.reps.flatMap(({ student, level, off, lmr, stop }): TrialRow[] =>
  Array.from({ length: stop === 0 ? reference.checkpoints : stop }, (_, i) => ({
    student: String(student),
    checkpoint: String(i + 1),
    level,
    off,
    mass: lmr,
    reached: 1,
    failed: stop === i + 1 ? 1 : 0,
  })),
);

// R's lme4::glmer(…, nAGQ = 0) on the same reps; its standard deviations are of the students and of student × checkpoint.
describe('the hierarchical hazard model, against R lme4', () => {
  const trials = trialsOf(rows, 1);
  const places = placesOf(trials);

  test('has the same modes at the same standard deviations, to five digits', () => {
    const mode = modeAt(trials, flatPriors, {
      student: reference.tau_student,
      deviation: reference.tau_studentCheckpoint,
    });
    const { effects, deviation } = mode;
    const fixed = reference.fixed as Record<string, number>;
    trials.checkpoints.forEach((id, i) =>
      expect(Math.abs(effects[i]! - fixed[`checkpoint${id}`]!)).toBeLessThan(1e-5),
    );
    trials.levels.forEach((level, i) =>
      expect(Math.abs(effects[places.level + i]! - fixed[`level${level}`]!)).toBeLessThan(1e-5),
    );
    expect(Math.abs(effects[places.off]! - fixed['off']!)).toBeLessThan(1e-5);
    expect(Math.abs(effects[places.mass]! - fixed['lmr']!)).toBeLessThan(1e-5);
    const students = reference.student as Record<string, number>;
    trials.students.forEach((id, i) =>
      expect(Math.abs(effects[places.student + i]! - students[id]!)).toBeLessThan(1e-5),
    );
    const own = reference.studentCheckpoint as Record<string, number>;
    deviation.forEach((value, cell) => {
      const name = `${trials.students[trials.cells.student[cell]!]}.${trials.pieces[trials.cells.piece[cell]!]}`;
      expect(Math.abs(value - own[name]!)).toBeLessThan(1e-5);
    });
    expect(logMarginalOf(mode)).toBeCloseTo(reference.logLik, 1);
  });

  test('finds the same standard deviations on its own, to two percent', () => {
    const { scales } = finished(fit(trials, flatPriors, { tolerance: 1e-4 }));
    expect(Math.abs(scales.student / reference.tau_student - 1)).toBeLessThan(0.02);
    expect(Math.abs(scales.deviation / reference.tau_studentCheckpoint - 1)).toBeLessThan(0.02);
  });
});

const aRow = fc.record({
  student: fc.constantFrom('a', 'b', 'c'),
  checkpoint: fc.constantFrom('1', '2', '3', '4'),
  level: fc.constantFrom(0, 1, 2, 3, 4),
  off: fc.constantFrom(0, 1),
  mass: fc.double({ min: -1, max: 1, noNaN: true }),
  reached: fc.double({ min: 0, max: 30, noNaN: true }),
  share: fc.constantFrom(0, 0.3, 1),
});
const anyRows = fc
  .array(aRow, { maxLength: 25 })
  .map((list) => list.map(({ share, ...row }): TrialRow => ({ ...row, failed: row.reached * share })));

describe('the model of any reps', () => {
  test('is sound: never anything that is not a number, whatever was or was not tried', () => {
    fc.assert(
      fc.property(anyRows, (list) => {
        const mode = finished(fit(trialsOf(list, 2, [0, 1, 2, 3, 4]), modelPriors));
        const posterior = new Posterior(mode);
        for (const student of ['a', 'never seen'])
          for (const checkpoint of ['1', 'never tried']) {
            const closer = posterior.closer(student, checkpoint);
            const drawn = posterior.drawCloser(closer, posterior.draws(3, 0.1));
            const numbers = [...closer.mean, ...closer.covariance, ...drawn];
            expect(numbers.every(Number.isFinite)).toBe(true);
            expect(closer.covariance[0]).toBeGreaterThan(0);
          }
      }),
      { numRuns: 40 },
    );
  });

  test('is the same for the same reps in any order', () => {
    fc.assert(
      fc.property(
        anyRows.chain((list) =>
          fc.tuple(fc.constant(list), fc.shuffledSubarray(list, { minLength: list.length })),
        ),
        ([list, other]) => {
          const at = (some: TrialRow[]) =>
            modeAt(trialsOf(some, 2), modelPriors, { student: 0.4, deviation: 0.6 });
          expect(at(other).effects).toEqual(at(list).effects);
        },
      ),
      { numRuns: 20 },
    );
  });

  test('leans on the squad where a student has few reps, and on the student where there are many', () => {
    const squad = ['b', 'c', 'd', 'e', 'f'].map((student): TrialRow => ({
      student,
      checkpoint: '1',
      level: 2,
      off: 0,
      mass: 0,
      reached: 40,
      failed: 8,
    }));
    const hazardOfA = (n: number) => {
      const own: TrialRow = {
        student: 'a',
        checkpoint: '1',
        level: 2,
        off: 0,
        mass: 0,
        reached: n,
        failed: n / 2,
      };
      const posterior = new Posterior(
        modeAt(trialsOf([...squad, own], 2), modelPriors, { student: 0.45, deviation: 0.6 }),
      );
      return 1 / (1 + Math.exp(-posterior.closer('a', '1').mean[0]!));
    };
    expect(hazardOfA(2)).toBeLessThan(0.3);
    expect(hazardOfA(200)).toBeGreaterThan(0.45);
  });

  test('sees a student who is worse on one side only there, and nothing where there is nothing', () => {
    const one = (student: string, off: number, failed: number): TrialRow => ({
      student,
      checkpoint: '1',
      level: 2,
      off,
      mass: 0,
      reached: 40,
      failed,
    });
    const list = [
      one('a', 0, 3),
      one('a', 1, 22),
      ...['b', 'c', 'd'].flatMap((s) => [one(s, 0, 8), one(s, 1, 9)]),
    ];
    const posterior = new Posterior(finished(fit(trialsOf(list, 2), modelPriors)));
    const off = (student: string) => posterior.closer(student, '1').mean.at(-2)!;
    expect(off('a')).toBeGreaterThan(1);
    expect(Math.abs(off('b'))).toBeLessThan(off('a') / 2);
  });

  test('refuses what makes no sense, and a level it does not have', () => {
    const row: TrialRow = { student: 'a', checkpoint: '1', level: 2, off: 0, mass: 0, reached: 1, failed: 2 };
    expect(() => trialsOf([row], 2)).toThrow(RangeError);
    const posterior = new Posterior(
      modeAt(trialsOf([{ ...row, failed: 1 }], 2), modelPriors, { student: 1, deviation: 1 }),
    );
    expect(() => posterior.features({ level: 4, off: 0, mass: 0 })).toThrow(RangeError);
  });
});
