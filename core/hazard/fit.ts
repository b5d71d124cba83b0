import { simplex, type Steps } from '../math';
import {
  fallAt,
  fallFrom,
  type Mode,
  modeAt,
  modelPriors,
  modeSteps,
  type Priors,
  type Scales,
} from './mode';
import type { Trials } from './trials';

export interface FitOptions {
  /** Scales that are known already: nothing is searched for. */
  at?: Scales;
  /** Where the search starts; scales of an earlier fit make it short. */
  start?: Scales;
  /** For the logarithms of the scales. */
  tolerance?: number;
}

const bounds = { low: Math.log(1e-3), high: Math.log(5) };
const mostValues = 160;
const mostTurns = 8;
/** How exact a mode must be while the search is on its way, in squares of the search's own tolerance. */
const roughly = 0.1;

/**
 * Fits the hierarchical hazard model: the scales by maximising the Laplace-approximated marginal likelihood, everything
 * else at its joint mode there. It pauses after each step of the search.
 * With flat priors and unit weights this is the estimate of R's `lme4::glmer(…, nAGQ = 0)`.
 */
export function* fit(
  trials: Trials,
  priors: Priors,
  { at, start = modelPriors.scales!.usual, tolerance = 2e-2 }: FitOptions = {},
): Steps<Mode> {
  if (at || trials.cells.count === 0) return yield* modeSteps(trials, priors, at ?? start);
  const inside = (x: number) => Math.min(bounds.high, Math.max(bounds.low, x));
  let fall = fallAt(priors, start);
  const scalesAt = ([student = 0, deviation = 0]: readonly number[]): Scales => ({
    student: Math.exp(inside(student)),
    deviation: Math.exp(inside(deviation)),
    fall,
  });
  const surprise = (point: readonly number[]): number => {
    if (!priors.scales) return 0;
    const { usual, spread } = priors.scales;
    const away = [Math.log(usual.student), Math.log(usual.deviation)].map((x, i) => (point[i]! - x) / spread);
    return away.reduce((sum, x) => sum + (x * x) / 2, 0);
  };
  let latest: Mode | undefined;
  const cost = (point: readonly number[]) => {
    latest = modeAt(trials, priors, scalesAt(point), latest, roughly * tolerance ** 2);
    const beyond = point.reduce((sum, x) => sum + (x - inside(x)) ** 2, 0);
    return beyond + surprise(point) - latest.logMarginal;
  };
  const search = simplex(cost, [Math.log(start.student), Math.log(start.deviation)], {
    step: 0.35,
    tolerance,
    most: mostValues,
  });
  for (;;) {
    const { done, value } = search.next();
    if (done) {
      // The fall and all else by turns: each is as likely as it can be, given the other.
      for (let turn = 0; turn < mostTurns; turn++) {
        const before = fall;
        fall = fallFrom(yield* modeSteps(trials, priors, scalesAt(value.point), latest));
        if (Math.abs(fall - before) < 1e-3) break;
      }
      // From the beginning once more, so that the same scales give the same mode to the last digit.
      return yield* modeSteps(trials, priors, scalesAt(value.point));
    }
    yield;
  }
}
