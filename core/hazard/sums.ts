import type { Trials } from './trials';

/** Sums over the trials of one part at one point, each a column of `width` features: what a step and a slope are made of. */
export interface Sums {
  /** What failed less what was expected to, times the features. */
  gradient: Float64Array;
  /** Weights w = n·p·q times the products of two features; `width`² row by row, only the upper half filled. */
  curvature: Float64Array;
  /** w′ = n·p·q·(q − p), how a weight changes with the logit, times the features. */
  third: Float64Array;
}

export const newSums = ({ width }: Trials): Sums => ({
  gradient: new Float64Array(width),
  curvature: new Float64Array(width * width),
  third: new Float64Array(width),
});

/** e⁻ᵘ in steps of a 256th, up to where nothing is left of it that a sum could tell. */
const steps = 256;
const last = 40;
const table = Float64Array.from({ length: steps * last + 2 }, (_, i) => Math.exp(-i / steps));

/** e⁻ᵘ for u ≥ 0, from the table and four terms of its series: right to a few units of the last digit. */
function fallenBy(u: number): number {
  if (u >= last) return Math.exp(-u);
  const at = (u * steps + 0.5) | 0;
  const r = at / steps - u;
  return table[at]! * (1 + r * (1 + (r / 2) * (1 + (r / 3) * (1 + r / 4))));
}

/** Adds what a run has in common to the sums of its part: n·p, w and w′ by themselves, and w times the mass. */
function addRun(
  { features, width }: Trials,
  level: number,
  side: number,
  { gradient, curvature, third }: Sums,
  p: number,
  w: number,
  wMass: number,
  v: number,
): void {
  const [off, mass] = [features - 2, features - 1];
  gradient[0]! -= p;
  third[0]! += v;
  curvature[0]! += w;
  curvature[mass]! += wMass;
  if (level > 0) {
    gradient[level]! -= p;
    third[level]! += v;
    curvature[level]! += w;
    curvature[level * width + level]! += w;
    curvature[level * width + mass]! += wMass;
  }
  if (side !== 0) {
    gradient[off]! -= p * side;
    third[off]! += v * side;
    curvature[off]! += w * side;
    curvature[off * width + off]! += w * side * side;
    curvature[off * width + mass]! += wMass * side;
    if (level > 0) curvature[level * width + off]! += w * side;
  }
}

/** Sums a run at a logit of `base` and so much more a unit of mass. */
function sumRun(trials: Trials, run: number, base: number, byMass: number, sums: Sums): void {
  const { mass, reached, runs } = trials;
  const to = runs.start[run + 1]!;
  let [p, pMass, w, wMass, wMass2, v, vMass] = [0, 0, 0, 0, 0, 0, 0];
  for (let row = runs.start[run]!; row < to; row++) {
    const m = mass[row]!;
    const n = reached[row]!;
    const x = base + byMass * m;
    // One exponential gives both chances, and does not overflow.
    const small = fallenBy(x < 0 ? -x : x);
    const large = 1 / (1 + small);
    const less = small * large;
    const weight = n * less * large;
    const expected = n * (x < 0 ? less : large);
    const bend = weight * (x < 0 ? large - less : less - large);
    p += expected;
    pMass += expected * m;
    w += weight;
    wMass += weight * m;
    wMass2 += weight * m * m;
    v += bend;
    vMass += bend * m;
  }
  addRun(trials, runs.level[run]!, runs.off[run]!, sums, p, w, wMass, v);
  const at = trials.features - 1;
  sums.gradient[at]! -= pMass;
  sums.third[at]! += vMass;
  sums.curvature[at * trials.width + at]! += wMass2;
}

/** The same where somebody has drilled, a dose lowering the logit by what a fall is: sums by the doses come to it. */
function sumDoses(trials: Trials, run: number, base: number, byMass: number, fall: number, sums: Sums): void {
  const { mass, doses, reached, runs, features, width } = trials;
  const { gradient, curvature, third } = sums;
  const [level, side] = [runs.level[run]!, runs.off[run]!];
  const [off, at, dose] = [features - 2, features - 1, features];
  let [p, w, wMass, v, wDose] = [0, 0, 0, 0, 0];
  for (let row = runs.start[run]!; row < runs.start[run + 1]!; row++) {
    const [m, d, n] = [mass[row]!, -doses[row]!, reached[row]!];
    const x = base + byMass * m + fall * d;
    const small = fallenBy(x < 0 ? -x : x);
    const large = 1 / (1 + small);
    const less = small * large;
    const weight = n * less * large;
    const expected = n * (x < 0 ? less : large);
    const bend = weight * (x < 0 ? large - less : less - large);
    p += expected;
    w += weight;
    wMass += weight * m;
    wDose += weight * d;
    v += bend;
    gradient[at]! -= expected * m;
    third[at]! += bend * m;
    curvature[at * width + at]! += weight * m * m;
    gradient[dose]! -= expected * d;
    third[dose]! += bend * d;
    curvature[at * width + dose]! += weight * m * d;
    curvature[dose * width + dose]! += weight * d * d;
  }
  addRun(trials, level, side, sums, p, w, wMass, v);
  curvature[dose]! += wDose;
  if (level > 0) curvature[level * width + dose]! += wDose;
  curvature[off * width + dose]! += wDose * side;
}

/**
 * Sums the trials of a part, at given coefficients of its features without the doses, the first of them the logit where all others are
 * 0, and at a given fall a dose, into `sums`.
 */
export function sumsOver(
  trials: Trials,
  part: number,
  coefficients: Float64Array,
  fall: number,
  sums: Sums,
): void {
  const { features, width, runs, parts } = trials;
  sums.curvature.fill(0);
  sums.third.fill(0);
  for (let i = 0; i < width; i++) sums.gradient[i] = parts.failed[part * width + i]!;
  const byMass = coefficients[features - 1]!;
  for (let run = parts.start[part]!; run < parts.start[part + 1]!; run++) {
    const level = runs.level[run]!;
    const base =
      coefficients[0]! +
      (level > 0 ? coefficients[level]! : 0) +
      coefficients[features - 2]! * runs.off[run]!;
    if (width > features) sumDoses(trials, run, base, byMass, fall, sums);
    else sumRun(trials, run, base, byMass, sums);
  }
}
