import type { Breakdown } from '../breakdown';
import { fromDraws } from '../math';
import { showsAt } from '../rep';
import type { RootReading, Slice } from './reading';
import type { Tallied } from './tallied';

/**
 * Reps of a slice that say something of a checkpoint as a root, as far as each place at which it can show: those that were
 * lost by it, those that nobody tagged, and those that went so far and were not.
 */
export function rootCounts(
  breakdown: Breakdown,
  place: number,
  tallied: Tallied,
  slice: Slice,
): Pick<RootReading, 'reached' | 'failed' | 'open'> & { shown: { place: number; reached: number }[] } {
  const { id } = breakdown.checkpoints[place]!;
  const tally = tallied.at(id, slice);
  const root = tally.root ?? {
    failed: tally.failed,
    open: 0,
    held: { [id]: tally.reached - tally.failed },
  };
  const { failed, open } = root;
  const shown = showsAt(breakdown, place).map((to) => {
    const at = breakdown.checkpoints[to]!.id;
    return { place: to, reached: failed + (Object.hasOwn(root.held, at) ? root.held[at]! : 0) };
  });
  return { reached: shown.at(-1)!.reached, failed, open, shown };
}

/**
 * P(lost here, or later because of here | reached): the hazard here, and of each later one the share that is rooted here.
 * `roots[stop][place]` is that share; later ones than the last place are left out.
 */
export function rootHazard(
  hazards: ArrayLike<number>,
  roots: readonly (readonly number[])[],
  place: number,
  last = hazards.length - 1,
): number {
  let holds = 1 - hazards[place]!;
  for (let at = place + 1; at <= last; at++) holds *= 1 - hazards[at]! * roots[at]![place]!;
  return 1 - holds;
}

/** The hazard at a root with its interval from draws, its target, and how sure it is that it is above it. */
export function rootSight(
  hazards: readonly number[],
  drawn: readonly (readonly number[])[],
  targets: readonly number[],
  roots: readonly (readonly number[])[],
  place: number,
): Pick<RootReading, 'hazard' | 'target' | 'above'> {
  const draws = drawn.map((one) => rootHazard(one, roots, place));
  const target = rootHazard(targets, roots, place);
  return {
    hazard: fromDraws(rootHazard(hazards, roots, place), draws),
    target,
    above: draws.filter((hazard) => hazard > target).length / draws.length,
  };
}
