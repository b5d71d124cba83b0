import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import check from '../test/check-values.json' with { type: 'json' };
import { cholesky, cohenKappa, kendallTauB, solve } from '.';

describe('agreement and order', () => {
  test('Cohen’s κ of the table worked by hand', () => {
    const [[a, b], [c, d]] = check.cohenKappa.table as [[number, number], [number, number]];
    expect(cohenKappa({ a, b, c, d })).toBeCloseTo(check.cohenKappa.kappa, 12);
    expect(cohenKappa({ a: 0, b: 0, c: 0, d: 0 })).toBeNull();
    expect(cohenKappa({ a: 5, b: 0, c: 0, d: 0 })).toBeNull();
  });

  test('Kendall’s τ-b agrees with R', () => {
    const { x, y, tau } = check.kendallTauB;
    expect(kendallTauB(x, y)).toBeCloseTo(tau, 6);
    expect(kendallTauB([1, 1], [1, 2])).toBeNull();
    expect(() => kendallTauB([1], [1, 2])).toThrow(RangeError);
  });
});

describe('the Cholesky factor', () => {
  const size = 4;
  const entries = fc.array(fc.double({ min: -3, max: 3, noNaN: true }), {
    minLength: size * size,
    maxLength: size * size,
  });

  test('solves what it was made of', () => {
    fc.assert(
      fc.property(
        entries,
        fc.array(fc.double({ min: -5, max: 5, noNaN: true }), { minLength: size, maxLength: size }),
        (list, x) => {
          // M·Mᵀ + I is positive definite, whatever M is.
          const matrix = new Float64Array(size * size);
          for (let i = 0; i < size; i++)
            for (let k = 0; k < size; k++) {
              matrix[i * size + k] = i === k ? 1 : 0;
              for (let m = 0; m < size; m++)
                matrix[i * size + k]! += list[i * size + m]! * list[k * size + m]!;
            }
          const b = Float64Array.from({ length: size }, (_, i) =>
            x.reduce((sum, value, k) => sum + matrix[i * size + k]! * value, 0),
          );
          solve(cholesky(matrix, size), b).forEach((value, i) => expect(value).toBeCloseTo(x[i]!, 6));
        },
      ),
    );
  });

  test('is refused to a matrix that is not positive definite', () => {
    expect(() => cholesky(Float64Array.from([1, 2, 2, 1]), 2)).toThrow(RangeError);
  });
});
