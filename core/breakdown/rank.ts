import type { Draft } from './breakdown';
import { inWhole } from './edit';
import type { Id } from './ids';

/**
 * Weights of n things that are only ranked, the first mattering most: the rank-order centroid, w_k = (1/n) Σ_{i=k..n} 1/i
 * (Barron and Barrett, Management Science 42 (1996)). They sum to 1.
 */
export const rankWeights = (n: number): number[] =>
  Array.from({ length: n }, (_, k) => {
    let sum = 0;
    for (let i = k + 1; i <= n; i++) sum += 1 / i;
    return sum / n;
  });

/** Weights by rank (1 matters most), in the order given; those that tie share the weights of the places they take up. */
export function weightsByRank(ranks: readonly number[]): number[] {
  const byPlace = rankWeights(ranks.length);
  const sorted = [...ranks].sort((a, b) => a - b);
  return ranks.map((rank) => {
    const [first, last] = [sorted.indexOf(rank), sorted.lastIndexOf(rank)];
    return byPlace.slice(first, last + 1).reduce((sum, x) => sum + x, 0) / (last - first + 1);
  });
}

/** The draft with its weights by rank, in whole numbers that sum to 100; unranked checkpoints come last. */
export function shareByRank(draft: Draft, rankOf: (checkpoint: Id) => number | undefined): Draft {
  const ranks = draft.checkpoints.map(({ id }) => rankOf(id) ?? Infinity);
  const shares = inWhole(
    weightsByRank(ranks).map((weight) => 100 * weight),
    100,
  );
  return { ...draft, checkpoints: draft.checkpoints.map((one, i) => ({ ...one, belief: shares[i]! })) };
}
