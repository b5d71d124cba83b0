/** Precisions (1/variance) of the fixed part, and the mean of a checkpoint; a precision of 0 is flat. */
export interface Priors {
  checkpoint: { mean: number; precision: number };
  /** What a level above the reference, or below it, is thought to add to the logits for each step. */
  level: { step: number; precision: number };
  off: number;
  mass: number;
  /** The assumed effect of a dose. */
  fall: { mean: number; precision: number };
  /** What the scales are thought to be: log-normal around `usual`; null leaves them to the likelihood alone. */
  scales: { usual: Scales; spread: number } | null;
}

/** Standard deviations, in logits, of students and of a student's deviation at one piece: ω and τ. */
export interface Scales {
  student: number;
  deviation: number;
  /** What a dose does to the logits: a fall. The prior's where it is left out. */
  fall?: number;
}

/**
 * The priors of the model: checkpoint N(−1.4, 1.5²), level N(0.5 a rung, 1), because more resistance breaks more, off side and mass N(0, 0.5²), a dose N(−0.35, 0.25²): an assumption, wide enough to follow some ten corrections. The prior on the scales
 * keeps them from collapsing to nothing where reps are few, as the most likely scale often does (Chung et al.,
 * Psychometrika 78 (2013)); from about forty reps a student it hardly matters.
 */
export const modelPriors: Priors = {
  checkpoint: { mean: -1.4, precision: 1 / 1.5 ** 2 },
  level: { step: 0.5, precision: 1 },
  off: 4,
  mass: 4,
  fall: { mean: -0.35, precision: 1 / 0.25 ** 2 },
  scales: { usual: { student: 0.5, deviation: 0.7 }, spread: 0.3 },
};

/** No opinion on anything: what R's `glmer` has. */
export const flatPriors: Priors = {
  checkpoint: { mean: 0, precision: 0 },
  level: { step: 0, precision: 0 },
  off: 0,
  mass: 0,
  fall: { mean: 0, precision: 0 },
  scales: null,
};
