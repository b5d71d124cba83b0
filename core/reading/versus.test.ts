import { describe, expect, test } from '@jest/globals';
import { randomBinomial, randomLcg, randomNormal } from 'd3-random';
import { logistic } from '../math';
import { type Trial, versus } from './versus';

type Counts = Record<string, readonly [held: number, n: number]>;
const both = (a: Counts, b: Counts): Trial[] =>
  [a, b].flatMap((counts, i) =>
    Object.entries(counts).map(([student, [held, n]]) => ({
      student,
      of: i === 0 ? ('a' as const) : ('b' as const),
      held,
      n,
    })),
  );

describe('which of two holds more often', () => {
  test('is not decided by who logged more', () => {
    expect(versus(both({ ada: [39, 40] }, { ben: [10, 10] })).chance).toBeLessThan(0.6);
    expect(versus(both({ ada: [39, 40] }, { ada: [10, 10] })).chance).toBeLessThan(0.6);
  });

  test('is clear if every student holds one more often, and not if only a good student uses it', () => {
    const eachHalf = { ada: [9, 10], ben: [8, 10], cleo: [9, 10], dan: [10, 10] } as const;
    const eachLess = { ada: [5, 10], ben: [4, 10], cleo: [6, 10], dan: [5, 10] } as const;
    expect(versus(both(eachHalf, eachLess)).chance).toBeGreaterThan(0.99);
    const good = versus(both({ ada: [38, 40] }, { ben: [20, 40] })).chance;
    expect(good).toBeGreaterThan(0.6);
    expect(good).toBeLessThan(0.95);
  });

  test('swaps with the two', () => {
    const [one, other] = [
      { ada: [7, 9], ben: [3, 4] },
      { ada: [4, 9], cleo: [5, 8] },
    ] as const;
    const there = versus(both(one, other));
    const back = versus(both(other, one));
    expect(there.chance + back.chance).toBeCloseTo(1, 6);
    expect(there.a.value).toBeCloseTo(back.b.value, 6);
  });

  test('leaves aside what a harder partner or the other side explains', () => {
    const trials = (rungs: boolean): Trial[] =>
      ['ada', 'ben', 'cleo'].flatMap((student) => [
        { student, of: 'a' as const, held: 19, n: 20, ...(rungs && { rung: 1 }) },
        { student, of: 'a' as const, held: 3, n: 5, ...(rungs && { rung: 3 }) },
        { student, of: 'b' as const, held: 5, n: 5, ...(rungs && { rung: 1 }) },
        { student, of: 'b' as const, held: 12, n: 20, ...(rungs && { rung: 3 }) },
      ]);
    expect(versus(trials(false)).chance).toBeGreaterThan(0.9);
    expect(versus(trials(true)).chance).toBeLessThan(0.8);
  });

  test('says nothing of what nobody drilled', () => {
    expect(versus([]).chance).toBe(0.5);
  });

  // Sixty made-up squads of twelve: logit-normal students, one of the two used four times as often.
  test.each([
    [0, 0.17],
    [1.2, 1],
  ])('is as sure as it should be if the two differ by %d', (difference, atMost) => {
    const source = randomLcg(0.42);
    const normal = randomNormal.source(source)(0, 1);
    let [sure, wrong, within] = [0, 0, 0];
    const squads = 60;
    for (let squad = 0; squad < squads; squad++) {
      const middle = 0.8 + 0.5 * normal();
      const [a, b]: [Counts, Counts] = [{}, {}];
      let truth = 0;
      for (let i = 0; i < 12; i++) {
        const student = middle + 0.8 * normal();
        const held = (n: number, by: number) => randomBinomial.source(source)(n, logistic(student + by))();
        a[`s${i}`] = [held(12, difference / 2), 12];
        b[`s${i}`] = [held(3, -difference / 2), 3];
        truth += logistic(student + difference / 2) / 12;
      }
      const { chance, a: rate } = versus(both(a, b));
      sure += Number(chance > 0.95 || chance < 0.05);
      wrong += Number(chance < 0.05);
      within += Number(rate.low <= truth && truth <= rate.high);
    }
    expect(sure / squads).toBeLessThanOrEqual(atMost);
    if (difference > 0) expect(sure / squads).toBeGreaterThan(0.6);
    if (difference > 0) expect(wrong).toBe(0);
    expect(within / squads).toBeGreaterThan(0.7);
    expect(within / squads).toBeLessThan(0.9);
  });
});
