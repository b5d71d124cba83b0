import type { Steps } from '../math';
import { type Mode, modeSteps, stepped } from './mode';
import { modelPriors, type Priors, type Scales } from './priors';
import { along, moved, type Slopes, startOf, Survey } from './survey';
import type { Trials } from './trials';

export interface FitOptions {
  /** Scales that are known already: nothing is searched for. */
  at?: Scales;
  /** Where the search starts; scales of an earlier fit make it short. */
  start?: Scales;
  /** For the logarithms of the scales. */
  tolerance?: number;
}

type Pair = [student: number, deviation: number];

const bounds = { low: Math.log(1e-3), high: Math.log(5) };
const mostSteps = 120;
/** The scales wait for the mode until a step would raise the objective by less than this. */
const nearMode = 0.1;
/** They move where what the mode still lacks is at most this share of what they gain; later on less. */
const share = { first: 0.03, later: 1e-3, after: 12 };
/** Where the mode lacks less than this, it is the mode. */
const nothing = 1e-11;
/** The most that a logarithm of a scale moves at once. */
const farthest = 1;

const dot = (a: Pair, b: Pair): number => a[0] * b[0] + a[1] * b[1];
const longest = (a: Pair): number => Math.max(Math.abs(a[0]), Math.abs(a[1]));
const both = (of: (i: 0 | 1) => number): Pair => [of(0), of(1)];

/** What the scales did, and how the slope changed. */
interface Moved {
  by: Pair;
  change: Pair;
}

/** The curvature by which the scales move: the expected one, corrected by how the slope really changed (Broyden, Fletcher, Goldfarb, Shanno). */
function corrected([aa, ab, bb]: Slopes['fisher'], pairs: readonly Moved[]): Slopes['fisher'] {
  let [one, cross, two] = [aa, ab, bb];
  for (const { by, change } of pairs) {
    const seen = dot(by, change);
    const image: Pair = [one * by[0] + cross * by[1], cross * by[0] + two * by[1]];
    const expected = dot(by, image);
    if (!(seen > 1e-3 * expected)) continue;
    one += change[0] ** 2 / seen - image[0] ** 2 / expected;
    cross += (change[0] * change[1]) / seen - (image[0] * image[1]) / expected;
    two += change[1] ** 2 / seen - image[1] ** 2 / expected;
  }
  return [one, cross, two];
}

/** Where a curvature sends a slope, no farther than `reach`, and inside the bounds. */
function step([one, cross, two]: Slopes['fisher'], slope: Pair, at: Pair, reach: number): Pair {
  const held = both((i) => ((slope[i] > 0 ? at[i] >= bounds.high : at[i] <= bounds.low) ? 1 : 0));
  const [a, b, c] = [one + 1e-9, held[0] || held[1] ? 0 : cross, two + 1e-9];
  const rate = a * c - b * b;
  const free = both((i) => (held[i] ? 0 : slope[i]));
  const go: Pair =
    rate > 1e-12 * a * c
      ? [(c * free[0] - b * free[1]) / rate, (a * free[1] - b * free[0]) / rate]
      : [free[0] / a, free[1] / c];
  const short = Math.min(1, reach / Math.max(longest(go), 1e-300));
  return both((i) => Math.min(bounds.high, Math.max(bounds.low, at[i] + short * go[i])) - at[i]);
}

/** The logarithms of the scales at which the marginal likelihood is highest, with its prior. */
function* likeliest(trials: Trials, priors: Priors, start: Scales, tolerance: number): Steps<Pair> {
  const usual: Pair | null = priors.scales && [
    Math.log(priors.scales.usual.student),
    Math.log(priors.scales.usual.deviation),
  ];
  const sure = priors.scales ? priors.scales.spread ** -2 : 0;
  const inside = (x: number) => Math.min(bounds.high, Math.max(bounds.low, x));
  let at: Pair = [inside(Math.log(start.student)), inside(Math.log(start.deviation))];
  const scalesAt = ([student, deviation]: Pair): Scales => ({
    student: Math.exp(student),
    deviation: Math.exp(deviation),
  });
  let here = new Survey(trials, priors, scalesAt(at), startOf(trials, priors));
  let last: { by: Pair; slope: Pair } | null = null;
  let pairs: Moved[] = [];
  let reach = farthest;
  for (let n = 0; n < mostSteps; n++) {
    yield;
    const next = here.newton();
    const lacks = along(here.gradient, next);
    if (lacks < nearMode) {
      const told = here.slopes();
      const slope = both((i) => told.slope[i] - (usual ? sure * (at[i] - usual[i]) : 0));
      const moves: Moved[] = last
        ? [...pairs, { by: last.by, change: both((i) => last!.slope[i] - slope[i]) }].slice(-2)
        : pairs;
      // It went too far where the slope is as steep now, the other way.
      const tooFar: boolean = last !== null && dot(slope, last.by) < -0.9 * dot(last.slope, last.by);
      const nextReach: number = tooFar ? longest(last!.by) / 2 : last ? Math.min(farthest, 2 * reach) : reach;
      const [aa, ab, bb] = told.fisher;
      const by = step(corrected([aa + sure, ab, bb + sure], moves), slope, at, nextReach);
      const gain = dot(slope, by);
      if (lacks <= (n < share.after ? share.first : share.later) * gain || lacks < nothing) {
        at = both((i) => at[i] + by[i]);
        if (longest(by) < 10 * tolerance) return at;
        [last, pairs, reach] = [{ by, slope }, moves, nextReach];
        let point = moved(here.point, next);
        point = moved(moved(point, told.follows[0], by[0]), told.follows[1], by[1]);
        here = new Survey(trials, priors, scalesAt(at), point);
        continue;
      }
    }
    here = stepped(here, next);
  }
  return at;
}

/**
 * Fits the hierarchical hazard model: the scales by maximising the Laplace-approximated marginal likelihood by its slopes, everything
 * else at its joint mode there. It pauses after each step. With flat priors and unit weights this is the estimate of R's
 * `lme4::glmer(…, nAGQ = 0)`.
 */
export function* fit(
  trials: Trials,
  priors: Priors,
  { at, start = modelPriors.scales!.usual, tolerance = 1e-3 }: FitOptions = {},
): Steps<Mode> {
  if (at || trials.cells.count === 0) {
    const { fall } = at ?? start;
    return yield* modeSteps(trials, fall === undefined ? priors : pinned(priors, fall), at ?? start);
  }
  const mode = yield* fitTo(trials, priors, start, tolerance);
  if (mode.scales.fall <= 0) return mode;
  // A dose makes nobody worse.
  const without = yield* fitTo(trials, pinned(priors, 0), mode.scales, tolerance);
  return { ...without, scales: { ...without.scales, fall: 0 } };
}

/** Priors that know what a dose does. */
const pinned = (priors: Priors, fall: number): Priors => ({
  ...priors,
  fall: { mean: fall, precision: 1e9 },
});

function* fitTo(trials: Trials, priors: Priors, start: Scales, tolerance: number): Steps<Mode> {
  const [student, deviation] = yield* likeliest(trials, priors, start, tolerance);
  // From the beginning once more, at five digits, so that equal trials give equal digits wherever the search began.
  const told = (log: number) => Number(Math.exp(log).toPrecision(5));
  return yield* modeSteps(trials, priors, { student: told(student), deviation: told(deviation) });
}
