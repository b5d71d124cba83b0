/**
 * From hazards to the rope. A hazard is P(stop here | reached), one a checkpoint, in order, each 0…1.
 * These are the discrete-time life-table relations that Kaplan and Meier's estimator is made of.
 */

/** Share of reps still alive before each checkpoint and, last, after all of them: one entry more than there are hazards. */
export function survival(hazards: ArrayLike<number>): number[] {
  const alive = [1];
  for (let i = 0; i < hazards.length; i++) alive.push(alive[i]! * (1 - hazards[i]!));
  return alive;
}

/** Share of all reps lost at each checkpoint. Leaks and finish rate sum to 1. */
export function leaks(hazards: readonly number[]): number[] {
  let alive = 1;
  return hazards.map((hazard) => {
    const lost = alive * hazard;
    alive *= 1 - hazard;
    return lost;
  });
}

/** Share of reps that get through every checkpoint. */
export function finishRate(hazards: ArrayLike<number>): number {
  let alive = 1;
  for (let i = 0; i < hazards.length; i++) alive *= 1 - hazards[i]!;
  return alive;
}

/** What finish rate would rise by if the hazard at `place` fell to `target`; 0 where it is there already. */
export function gain(hazards: readonly number[], place: number, target: number): number {
  let others = 1;
  for (let i = 0; i < hazards.length; i++) if (i !== place) others *= 1 - hazards[i]!;
  return others * Math.max(0, hazards[place]! - target);
}

/**
 * What finish rate would rise by if everything that has its root at `place` were fixed: at each checkpoint the share of
 * its stops that is rooted there (`roots[stop][place]`) is fixed to the target. With every root at its own checkpoint it
 * is `gain`.
 */
export function rootGain(
  hazards: readonly number[],
  roots: readonly (readonly number[])[],
  place: number,
  targets: readonly number[],
): number {
  let [now, fixed] = [1, 1];
  for (let at = 0; at < hazards.length; at++) {
    const hazard = hazards[at]!;
    now *= 1 - hazard;
    fixed *= 1 - hazard + roots[at]![place]! * Math.max(0, hazard - targets[at]!);
  }
  return fixed - now;
}
