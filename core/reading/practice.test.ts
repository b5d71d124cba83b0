import { describe, expect, test } from '@jest/globals';
import { randomLcg } from 'd3-random';
import { finished, fit, modelPriors, type TrialRow, trialsOf } from '../hazard';
import { aRep, plainBreakdown, questionOf } from '../test';
import { fold, notedOfDose, Practice, tallyWeeks, trialRows, weekOf, type WeekTally } from '.';

const breakdown = plainBreakdown(5);
const editions = new Map([[breakdown.technique, new Map([[1, breakdown]])]]);
const week = (n: number) => new Date(Date.UTC(2026, 0, 5 + 7 * n)).toISOString();
const times = (n: number, fields: Parameters<typeof aRep>[0]) =>
  Array.from({ length: n }, () => aRep(fields));
const tallied = (...reps: ReturnType<typeof aRep>[]) => tallyWeeks(editions, reps, () => null);

describe('what was drilled of a checkpoint since', () => {
  const numberOf = (monday: string) =>
    Math.round((Date.parse(monday) - Date.parse(week(0))) / (7 * 86_400_000));
  const drilled = tallied(
    ...times(10, { at: week(0) }),
    ...times(notedOfDose, { from: 'c3', at: week(1) }),
    ...times(2 * notedOfDose, { from: 'c3', at: week(3) }),
  );
  const who = drilled[0]!;
  const since = (list: readonly WeekTally[], at: number, now: number, kept = 1) =>
    new Practice(list, numberOf, kept).since(who, 'c3', at, now);

  test('is the doses after a week, and half of its own', () => {
    expect(since(drilled, 0, 4)).toBeCloseTo(3);
    expect(since(drilled, 1, 4)).toBeCloseTo(2.5);
    expect(since(drilled, 3, 4)).toBeCloseTo(1);
    expect(since(drilled, 4, 4)).toBeCloseTo(0);
  });
  test('counts reps that began there because somebody asked for it, and no whole ones', () => {
    expect(new Practice(drilled, numberOf, 1).since(who, 'c1', 0, 4)).toBe(0);
    expect(drilled.reduce((sum, { checkpoints }) => sum + (checkpoints['c3']?.begun ?? 0), 0)).toBe(30);
  });
  test('fades: long ago it was better than now, where nothing was drilled since', () => {
    expect(since(drilled, 3, 12, 0.84)).toBeLessThan(0);
    expect(since(drilled, 0, 12, 0.84)).toBeLessThan(since(drilled, 0, 12));
  });
  test('parts the weeks of a cell, and the parts sum to it', () => {
    const reps = [
      ...times(12, { at: week(0), stop: 'c3' }),
      ...times(20, { from: 'c3', at: week(1) }),
      ...times(8, { at: week(2) }),
    ];
    const { cells } = questionOf(breakdown, reps, {
      folding: { asOf: week(2), halfLifeDays: Infinity },
    });
    const { parts, weightReached, weightFailed, reached } = cells[0]!.checkpoints['c3']!;
    expect(parts.length).toBeGreaterThan(1);
    expect(parts.reduce((sum, one) => sum + one.weightReached, 0)).toBeCloseTo(weightReached);
    expect(parts.reduce((sum, one) => sum + one.weightFailed, 0)).toBeCloseTo(weightFailed);
    expect(reached).toBe(40);
    // Another checkpoint was not drilled: it is one part, as it always was.
    expect(cells[0]!.checkpoints['c1']!.parts).toHaveLength(1);
    const rows = trialRows(cells, new Map()).filter(({ checkpoint }) => checkpoint.endsWith('/c3'));
    expect(rows.map(({ doses }) => doses)).toEqual(parts.map(({ doses }) => doses));
  });
  test('does not depend on the order in which weeks are counted', () => {
    const folding = { asOf: week(4), halfLifeDays: 28 };
    expect(fold([...drilled].reverse(), folding)).toEqual(fold(drilled, folding));
    expect(weekOf(week(0))).toBe(week(0).slice(0, 10));
  });
});

describe('the fall a dose', () => {
  /** Twelve students at six checkpoints, seen before four doses and after, whose logits a dose lowers by so much. */
  const seen = (fall: number, n: number): TrialRow[] => {
    const chance = randomLcg(0.37);
    return Array.from({ length: 72 }, (_, cell) => {
      const now = -1.2 + 1.2 * (chance() - 0.5);
      return [0, 2, 4].map((doses): TrialRow => {
        const p = 1 / (1 + Math.exp(-(now - fall * doses)));
        const failed = Array.from({ length: n }, () => chance() < p).filter(Boolean).length;
        return {
          student: `s${cell % 12}`,
          checkpoint: `c${Math.floor(cell / 12)}`,
          level: 2,
          off: 0,
          mass: 0,
          doses,
          reached: n,
          failed,
        };
      });
    }).flat();
  };
  const fitted = (rows: readonly TrialRow[]) => finished(fit(trialsOf(rows, 2), modelPriors)).scales.fall;

  test('is found again from reps before and after', () => {
    expect(fitted(seen(-0.5, 30))).toBeCloseTo(-0.5, 1);
    expect(fitted(seen(-0.1, 30))).toBeCloseTo(-0.1, 1);
  });
  test('is the prior’s where nothing was drilled, and never makes anybody worse', () => {
    const none = seen(-0.5, 30).map((row) => ({ ...row, doses: 0 }));
    const mode = finished(fit(trialsOf(none, 2), modelPriors));
    expect(mode.scales.fall).toBe(modelPriors.fall.mean);
    expect(fitted(seen(0.4, 30))).toBeLessThanOrEqual(0);
  });
});
