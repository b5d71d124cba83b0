import { type Cholesky, finished, type Steps } from '../math';
import type { Priors, Scales } from './priors';
import { along, moved, placesOf, type Point, startOf, Survey } from './survey';
import type { Trials } from './trials';

/** The joint mode at given scales, with all that the posterior is made of. */
export interface Mode extends Point {
  trials: Trials;
  priors: Priors;
  /** With the fall a dose at the mode; the prior's where nobody has drilled anything. */
  scales: Required<Scales>;
  /** Factor of the Schur complement: the inverse covariance of `effects` with the deviations integrated out. */
  factor: Cholesky;
}

const mostSteps = 60;
/** The shortest part of a step. */
const shortest = 1e-6;
/** A step went too far where the slope at its end is as steep as at its start, the other way. */
const back = 0.9;

/** A Newton step, halved until it does not go too far; the likelihood bends down everywhere, so that its slope is enough to tell. */
export function stepped(here: Survey, step: Point): Survey {
  const { trials, priors, scales, point, gradient } = here;
  const rise = along(gradient, step);
  for (let length = 1; ; length /= 2) {
    const there = new Survey(trials, priors, scales, moved(point, step, length));
    if (along(there.gradient, step) >= -back * rise || length < shortest) return there;
  }
}

/** The mode a last step away from a point: so short that the curvature is that of the point. */
function modeOf(survey: Survey, last: Point): Mode {
  const { trials, priors, scales, factor } = survey;
  const point = moved(survey.point, last);
  const { fall } = placesOf(trials);
  const fitted = fall === null ? priors.fall.mean : point.effects[fall]!;
  return {
    trials,
    priors,
    scales: { ...scales, fall: fitted },
    ...point,
    factor,
  };
}

/**
 * The joint mode of all effects at given scales, by Newton steps. `tolerance` bounds what the objective may be short of its maximum
 * before the last of them. Source: Breslow & Clayton, JASA 88 (1993); Bates et al., J. Stat. Software 67 (2015).
 */
export function* modeSteps(trials: Trials, priors: Priors, scales: Scales, tolerance = 1e-7): Steps<Mode> {
  let here = new Survey(trials, priors, scales, startOf(trials, priors));
  for (let step = 0; ; step++) {
    yield;
    const next = here.newton();
    if (along(here.gradient, next) < tolerance || step === mostSteps) return modeOf(here, next);
    here = stepped(here, next);
  }
}

/** Log-likelihood at a mode, Laplace-approximated over students and deviations, up to the constants of the fixed priors. */
export const logMarginalOf = ({ trials, priors, scales, effects, deviation }: Mode): number =>
  new Survey(trials, priors, scales, { effects, deviation }).logMarginal();

/** The joint mode, without a pause. */
export const modeAt = (...of: Parameters<typeof modeSteps>): Mode => finished(modeSteps(...of));
