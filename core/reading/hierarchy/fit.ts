import { simplex } from '../../math';
import { type Effects, type Mode, modeOf } from './mode';
import { grouped, type Groups, type Priors, type Spread, type Trials } from './trials';

/** What is thought of the spread before any rep: log-normal around `median`, the same for ω and τ. Null is no prior. */
export type SpreadPrior = { median: number; deviation: number } | null;

export interface FitSettings {
  priors: Priors;
  spreadPrior: SpreadPrior;
  /** Given, ω and τ are taken as known and not estimated. */
  spread?: Spread;
  /** Where the search for ω and τ starts. */
  from?: Spread;
}

export interface Fit extends Mode {
  trials: Trials;
  groups: Groups;
  settings: FitSettings;
  spread: Spread;
}

/** How far a fit has come; the share is a guess, 0…1. */
export interface FitProgress {
  share: number;
  spread: Spread;
}

const defaultStart: Spread = { student: 0.5, deviation: 0.5 };
/** About how many spreads are tried before the search ends, for telling progress. */
const usualTries = 45;
/** A spread below this is taken for none: the log-odds of students then differ by under a hundredth. */
const noSpread = 0.005;

/**
 * The hierarchical logistic model of where reps stop, fitted: joint mode of all effects, with ω and τ at the maximum of the
 * Laplace-approximated marginal likelihood (times their prior, where there is one). Yields after each step of the search, so that
 * a worker can tell its progress and be cancelled. The same trials and settings give the same fit.
 */
export function* fitting(cells: Trials, settings: FitSettings): Generator<FitProgress, Fit> {
  const { trials, groups } = grouped(cells);
  const { priors, spreadPrior } = settings;
  let start: Effects | undefined;
  const at = (spread: Spread): Mode => modeOf(trials, groups, priors, spread, start);
  const done = (spread: Spread): Fit => ({ ...at(spread), trials, groups, settings, spread });
  if (settings.spread) return done(settings.spread);

  const spreadOf = (point: readonly number[]): Spread => {
    const [student, deviation] = point.map((log) => (Math.exp(log) < noSpread ? 0 : Math.exp(log)));
    return { student: student!, deviation: deviation! };
  };
  const surprise = (point: readonly number[]): number => {
    const mode = at(spreadOf(point));
    start = mode.effects;
    const prior = spreadPrior
      ? point.reduce(
          (sum, log) => sum + ((log - Math.log(spreadPrior.median)) / spreadPrior.deviation) ** 2,
          0,
        )
      : 0;
    return prior / 2 - mode.logMarginal;
  };
  const { student, deviation } = settings.from ?? defaultStart;
  const search = simplex(surprise, [student, deviation].map(Math.log), {
    step: 0.4,
    tolerance: 2e-3,
    most: 150,
  });
  for (;;) {
    const { done: ended, value } = search.next();
    const spread = spreadOf(value.point);
    if (ended) return done(spread);
    yield { share: value.asked / (value.asked + Math.max(2, usualTries - value.asked)), spread };
  }
}

/** Runs a generator to its end and gives what it returns. */
export function finish<T>(steps: Generator<unknown, T>): T {
  for (;;) {
    const { done, value } = steps.next();
    if (done) return value;
  }
}

/** The fit in one go. */
export const fit = (cells: Trials, settings: FitSettings): Fit => finish(fitting(cells, settings));
