import { randomBeta, randomLcg } from 'd3-random';
import jStat from 'jstat';
import { type Estimate, tails } from './estimate';

/** A Beta distribution over a rate; both shapes positive. */
export interface Beta {
  a: number;
  b: number;
}

/** Quantile of a Beta distribution, `p` in 0…1. Throws where a shape is not positive. */
export function betaQuantile({ a, b }: Beta, p: number): number {
  if (!(a > 0 && b > 0)) throw new RangeError(`a Beta needs positive shapes, not ${a} and ${b}`);
  return jStat.beta.inv(p, a, b);
}

/** Mean and 80 % interval (equal tails) of a Beta distribution. */
export const betaEstimate = (beta: Beta): Estimate => ({
  value: beta.a / (beta.a + beta.b),
  low: betaQuantile(beta, tails.low),
  high: betaQuantile(beta, tails.high),
});

/** `n` draws from a Beta. The same seed gives the same draws. */
export function drawsOf({ a, b }: Beta, n: number, seed: number): Float64Array {
  const draw = randomBeta.source(randomLcg(seed))(a, b);
  const drawn = new Float64Array(n);
  for (let i = 0; i < n; i++) drawn[i] = draw();
  return drawn;
}

/** `n` draws from each of several Betas, one row a draw. The same seed gives the same draws. */
export function betaDraws(betas: readonly Beta[], n: number, seed: number): number[][] {
  const draw = betas.map(({ a, b }, i) => randomBeta.source(randomLcg(seed + i * 0.618034))(a, b));
  return Array.from({ length: n }, () => draw.map((one) => one()));
}
