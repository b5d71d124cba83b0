import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import check from '../test/check-values.json' with { type: 'json' };
import { plainBreakdown } from '../test';
import { rankWeights, shareByRank, weightsByRank } from '.';

describe('an order of importance', () => {
  // Barron and Barrett, Management Science 42 (1996), to four places.
  test.each([3, 4] as const)('of %i has the weights of the rank-order centroid', (n) => {
    rankWeights(n).forEach((weight, i) => expect(weight).toBeCloseTo(check.rankOrder[n][i]!, 4));
  });

  test('gives whole weights in the order of the ranks; ties share what their places have', () => {
    expect(weightsByRank([3, 1, 2])).toEqual([1 / 9, 11 / 18, 5 / 18].map((x) => expect.closeTo(x, 12)));
    const [first, second, third] = rankWeights(3);
    expect(weightsByRank([1, 1, 9])).toEqual(
      [(first! + second!) / 2, (first! + second!) / 2, third!].map((x) => expect.closeTo(x, 12)),
    );
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 9 }), { minLength: 1, maxLength: 12 }), (ranks) => {
        const weights = weightsByRank(ranks);
        expect(weights.reduce((sum, x) => sum + x, 0)).toBeCloseTo(1, 12);
        ranks.forEach((rank, i) =>
          ranks.forEach((other, k) => {
            if (rank < other) expect(weights[i]!).toBeGreaterThan(weights[k]!);
            if (rank === other) expect(weights[i]!).toBeCloseTo(weights[k]!, 12);
          }),
        );
      }),
    );
  });

  test('makes the worths of a draft whole, and puts what nobody ranked last', () => {
    const ranks = new Map([
      ['c2', 1],
      ['c1', 2],
    ]);
    const { checkpoints } = shareByRank(plainBreakdown(4), (id) => ranks.get(id));
    expect(checkpoints.map(({ belief }) => belief)).toEqual([27, 52, 11, 10]);
  });
});
