import { type Breakdown, causesAt, type Id, placeOf } from '../breakdown';
import { observing } from './observe';
import type { Rep } from './rep';

/** What a rep says about a checkpoint as a root. Open: it may have been lost there, and nobody has said. */
export type RootObservation = 'held' | 'failed' | 'open' | 'not seen';

/**
 * The checkpoint at which most of what can stop a rep at `stop` has its root, by the catalogue's shares; null where no one
 * checkpoint has more than half. A defence has its root where it stops the rep.
 */
export function mostlyRootedAt(breakdown: Breakdown, stop: Id): Id | null {
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
  for (const [root, share] of shares) if (share > all / 2) return root;
  return null;
}

/**
 * What a rep says about the checkpoint at a place (from 0) as a root. It failed there where it stopped there, or later by a
 * mistake that has its root there, whatever it looked like when it passed. A later stop that nobody tagged, and that is
 * mostly rooted there, is open: it counts neither way.
 */
export function observingRoot(breakdown: Breakdown, rep: Rep): (place: number) => RootObservation {
  const surface = observing(breakdown, rep);
  return (place) => {
    const seen = surface(place);
    if (seen === 'not seen' || seen === 'failed') return seen;
    if (rep.outcome !== 'stopped' || placeOf(breakdown, rep.stop) <= place) return 'held';
    const id = breakdown.checkpoints[place]!.id;
    if (rep.cause === null) return mostlyRootedAt(breakdown, rep.stop) === id ? 'open' : 'held';
    return breakdown.mistakes.find((one) => one.id === rep.cause)?.root === id ? 'failed' : 'held';
  };
}
