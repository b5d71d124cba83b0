import type { Estimate } from './estimate';
import { normalQuantile } from './normal';

/**
 * Wilson's score interval for a proportion: `successes` of `n` trials, `level` 0…1 (0.8 by default).
 * Source: Newcombe, Statistics in Medicine 17 (1998) 857–872, method 3. Throws where n is not positive.
 */
export function wilson(successes: number, n: number, level = 0.8): Estimate {
  if (!(n > 0) || successes < 0 || successes > n)
    throw new RangeError(`a proportion needs 0 ≤ successes ≤ n and n > 0, not ${successes} of ${n}`);
  const z = normalQuantile(1 - (1 - level) / 2);
  const p = successes / n;
  const middle = (2 * n * p + z * z) / (2 * (n + z * z));
  const half = (z * Math.sqrt(z * z + 4 * n * p * (1 - p))) / (2 * (n + z * z));
  return { value: p, low: Math.max(0, middle - half), high: Math.min(1, middle + half) };
}
