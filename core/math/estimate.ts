import { z } from 'zod';

/** A value with its 80 % interval. */
export const Estimate = z.object({ value: z.number(), low: z.number(), high: z.number() });
export type Estimate = z.infer<typeof Estimate>;

/** The tails that an 80 % interval leaves out, as probabilities. */
export const tails = { low: 0.1, high: 0.9 } as const;

/** Quantile of a sorted, non-empty list by linear interpolation between order statistics (R's type 7). `p` in 0…1. */
export function quantile(sorted: ArrayLike<number>, p: number): number {
  const at = (sorted.length - 1) * p;
  const below = sorted[Math.floor(at)]!;
  const above = sorted[Math.ceil(at)]!;
  return below + (above - below) * (at - Math.floor(at));
}

/** An estimate whose interval is that of the draws, in any order; the value is given. */
export function fromDraws(value: number, draws: ArrayLike<number>): Estimate {
  const sorted = Float64Array.from(draws).sort();
  return { value, low: quantile(sorted, tails.low), high: quantile(sorted, tails.high) };
}
