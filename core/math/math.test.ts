import { describe, expect, test } from '@jest/globals';
import check from '../test/check-values.json' with { type: 'json' };
import { betaDraws, betaEstimate, betaQuantile, fromDraws, quantile, wilson } from '.';

describe('Beta quantiles', () => {
  test.each(check.betaQuantiles.rows)('agree with R qbeta for a = $a, b = $b', ({ a, b, q10, q50, q90 }) => {
    expect(betaQuantile({ a, b }, 0.1)).toBeCloseTo(q10, 7);
    expect(betaQuantile({ a, b }, 0.5)).toBeCloseTo(q50, 7);
    expect(betaQuantile({ a, b }, 0.9)).toBeCloseTo(q90, 7);
  });

  test('refuse a shape that is not positive', () => {
    expect(() => betaQuantile({ a: 0, b: 1 }, 0.5)).toThrow(RangeError);
  });

  test('and seeded draws tell the same story, the same way each time', () => {
    const beta = { a: 7, b: 5.5 };
    const drawn = betaDraws([beta], 4000, 0.25).map(([x]) => x!);
    expect(betaDraws([beta], 3, 0.25)).toEqual(drawn.slice(0, 3).map((x) => [x]));
    const { low, high } = fromDraws(0, drawn);
    const exact = betaEstimate(beta);
    expect(Math.abs(low - exact.low)).toBeLessThan(0.02);
    expect(Math.abs(high - exact.high)).toBeLessThan(0.02);
  });
});

describe("Wilson's interval", () => {
  // Newcombe, Statistics in Medicine 17 (1998) 857–872, method 3, 95 %.
  test.each(check.wilson95.rows)('of %d in %d is %d to %d', (successes, n, low, high) => {
    const interval = wilson(successes!, n!, 0.95);
    expect(interval.low).toBeCloseTo(low!, 4);
    expect(interval.high).toBeCloseTo(high!, 4);
  });

  test('is refused for more successes than trials, or none', () => {
    expect(() => wilson(3, 2)).toThrow(RangeError);
    expect(() => wilson(0, 0)).toThrow(RangeError);
  });
});

test('a quantile interpolates between order statistics', () => {
  expect(quantile([1, 2, 3, 4], 0.25)).toBeCloseTo(1.75, 12);
  expect(quantile([5], 0.9)).toBe(5);
});
