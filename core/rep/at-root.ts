import { type Breakdown, causesAt, type Id, placeOf } from '../breakdown';
import { observing } from './observe';
import type { Rep } from './rep';

/** What a rep says about a checkpoint as a root. Open: it may have been lost there, but the stop is untagged. */
export type RootObservation = 'held' | 'failed' | 'open' | 'not seen';

/**
 * The checkpoint at which most of what can stop a rep at `stop` has its root, by the catalogue's shares; null where no one
 * checkpoint has more than half. A defence has its root where it stops the rep.
 */
export const mostlyRootedAt = (breakdown: Breakdown, stop: Id): Id | null =>
  rootsOf(breakdown).mostly.get(stop) ?? null;

interface Roots {
  /** By the mistake. */
  ofMistake: ReadonlyMap<Id, Id>;
  /** By the checkpoint at which reps stop. */
  mostly: ReadonlyMap<Id, Id>;
}

/** The Mat asks at every tap, of every rep of a student: an edition never changes, so its roots are looked up once. */
const known = new WeakMap<Breakdown, Roots>();

function rootsOf(breakdown: Breakdown): Roots {
  const before = known.get(breakdown);
  if (before) return before;
  const mostly = new Map<Id, Id>();
  for (const { id: stop } of breakdown.checkpoints) {
    const shares = new Map<Id, number>();
    let all = 0;
    for (const cause of causesAt(breakdown, stop)) {
      const [root, share] =
        cause.kind === 'mistake'
          ? [cause.mistake.root, cause.mistake.priorShare]
          : [stop, cause.defence.priorShare];
      shares.set(root, (shares.get(root) ?? 0) + share);
      all += share;
    }
    for (const [root, share] of shares) if (share > all / 2) mostly.set(stop, root);
  }
  const roots = { ofMistake: new Map(breakdown.mistakes.map(({ id, root }) => [id, root])), mostly };
  known.set(breakdown, roots);
  return roots;
}

/**
 * What a rep says about the checkpoint at a place (from 0) as a root. It failed there where it stopped there, or later by a
 * mistake that has its root there, whatever it looked like when it passed. A later stop that nobody tagged, and that is
 * mostly rooted there, is open: it counts neither way.
 */
export function observingRoot(breakdown: Breakdown, rep: Rep): (place: number) => RootObservation {
  const surface = observing(breakdown, rep);
  const { ofMistake, mostly } = rootsOf(breakdown);
  const stop = rep.outcome === 'stopped' ? placeOf(breakdown, rep.stop) : -1;
  return (place) => {
    const seen = surface(place);
    if (seen === 'not seen' || seen === 'failed') return seen;
    if (rep.outcome !== 'stopped' || stop <= place) return 'held';
    const id = breakdown.checkpoints[place]!.id;
    if (rep.cause === null) return mostly.get(rep.stop) === id ? 'open' : 'held';
    return ofMistake.get(rep.cause) === id ? 'failed' : 'held';
  };
}
