import type { Breakdown, Id } from '../breakdown';
import { fromDraws } from '../math';
import { mostlyRootedAt } from '../rep';
import type { RootReading, Slice } from './reading';
import { stopsBy } from './tally';
import type { Tallied } from './tallied';

/** A technique as its roots are counted: which mistakes lead back to a checkpoint, and which untagged stops mostly do. */
export class Roots {
  private readonly later: readonly { stop: Id; causes: readonly string[] }[][];

  constructor(breakdown: Breakdown) {
    this.later = breakdown.checkpoints.map(({ id }, place) =>
      breakdown.checkpoints.slice(place + 1).flatMap(({ id: stop }) => {
        const causes = breakdown.mistakes
          .filter(({ at, root }) => at === stop && root === id)
          .map((mistake): string => mistake.id);
        const untagged = mostlyRootedAt(breakdown, stop) === id ? [''] : [];
        return causes.length + untagged.length > 0 ? [{ stop, causes: [...causes, ...untagged] }] : [];
      }),
    );
  }

  /** Reps of a slice that say something of a checkpoint as a root, of these the failed ones, and those that are open. */
  counts(
    id: Id,
    place: number,
    tallied: Tallied,
    slice: Slice,
  ): Pick<RootReading, 'reached' | 'failed' | 'open'> {
    const here = tallied.at(id, slice);
    let [failed, open] = [here.failed, 0];
    for (const { stop, causes } of this.later[place]!) {
      const tally = tallied.at(stop, slice);
      for (const cause of causes) {
        if (cause === '') open += stopsBy(tally, '');
        else failed += stopsBy(tally, cause);
      }
    }
    // Reps that began later and were lost because of here count as having been here.
    return { reached: Math.max(failed, here.reached - open), failed, open };
  }
}

/**
 * P(lost here, or later because of here | reached): the hazard here, and of each later one the share that is rooted here.
 * `roots[stop][place]` is that share.
 */
export function rootHazard(
  hazards: ArrayLike<number>,
  roots: readonly (readonly number[])[],
  place: number,
): number {
  let holds = 1 - hazards[place]!;
  for (let at = place + 1; at < hazards.length; at++) holds *= 1 - hazards[at]! * roots[at]![place]!;
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
