/** Two judges' verdicts on the same things: `a` said yes by both, `b` by the first alone, `c` by the second alone, `d` by neither. */
export interface TwoByTwo {
  a: number;
  b: number;
  c: number;
  d: number;
}

/**
 * Cohen's κ: agreement beyond chance, −1…1. Null where there is nothing to agree on, or where chance alone would agree.
 * Source: Cohen, Educational and Psychological Measurement 20 (1960) 37–46.
 */
export function cohenKappa({ a, b, c, d }: TwoByTwo): number | null {
  const n = a + b + c + d;
  if (n === 0) return null;
  const seen = (a + d) / n;
  const chance = ((a + b) * (a + c) + (c + d) * (b + d)) / n ** 2;
  return chance === 1 ? null : (seen - chance) / (1 - chance);
}

/**
 * Kendall's τ-b: rank correlation of two lists of the same length, −1…1, corrected for ties. Null where a list has no two
 * values that differ. Source: Kendall, Rank Correlation Methods (1948).
 */
export function kendallTauB(x: readonly number[], y: readonly number[]): number | null {
  if (x.length !== y.length) throw new RangeError(`the lists have ${x.length} and ${y.length} values`);
  let [together, xPairs, yPairs] = [0, 0, 0];
  for (let i = 0; i < x.length; i++)
    for (let k = 0; k < i; k++) {
      const dx = Math.sign(x[i]! - x[k]!);
      const dy = Math.sign(y[i]! - y[k]!);
      together += dx * dy;
      xPairs += dx * dx;
      yPairs += dy * dy;
    }
  return xPairs === 0 || yPairs === 0 ? null : together / Math.sqrt(xPairs * yPairs);
}
