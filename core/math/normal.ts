import jStat from 'jstat';

/** P(X ≤ x) of the standard normal distribution. */
export const normalCdf = (x: number): number => jStat.normal.cdf(x, 0, 1);

/** Quantile of the standard normal distribution, `p` in 0…1. */
export const normalQuantile = (p: number): number => jStat.normal.inv(p, 0, 1);

export const logit = (p: number): number => Math.log(p / (1 - p));
export const logistic = (x: number): number => 1 / (1 + Math.exp(-x));
