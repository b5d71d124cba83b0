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
  /** By place (from 0): the places at which what has its root there shows, in order, itself first. */
  shows: readonly (readonly number[])[];
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
  const shows = breakdown.checkpoints.map(({ id }, place) => {
    const later = breakdown.mistakes.flatMap(({ at, root }) => (root === id ? [placeOf(breakdown, at)] : []));
    return [...new Set([place, ...later])].sort((a, b) => a - b);
  });
  const roots = { ofMistake: new Map(breakdown.mistakes.map(({ id, root }) => [id, root])), mostly, shows };
  known.set(breakdown, roots);
  return roots;
}

/** The places (from 0) at which what has its root at a place shows, in order: itself first. */
export const showsAt = (breakdown: Breakdown, place: number): readonly number[] =>
  rootsOf(breakdown).shows[place] ?? [];

/** What is corrected at a root: a mistake or a defence there, where it is known. */
export interface Corrected {
  checkpoint: Id;
  mistake?: Id | null | undefined;
  defence?: Id | null | undefined;
}

/**
 * The place (from 0) as far as which a rep must have gone to say that a root held: where the mistake shows that is corrected, or
 * the root itself where a defence is; past all that has its root there where neither is known. −1 where the edition lacks it.
 */
export function provedAt(breakdown: Breakdown, { checkpoint, mistake, defence }: Corrected): number {
  const place = placeOf(breakdown, checkpoint);
  const known = breakdown.mistakes.find(({ id }) => id === mistake);
  if (place < 0) return -1;
  if (known?.root === checkpoint) return Math.max(place, placeOf(breakdown, known.at));
  return defence ? place : showsAt(breakdown, place).at(-1)!;
}

/**
 * What a rep says about the checkpoint at a place (from 0) as a root. It failed there where it stopped there, or later by a
 * mistake that has its root there, whatever it looked like when it passed. It held where it went `to` the place at which
 * that would have shown, which is the last such place where none is given. A later stop that nobody tagged, and that is mostly
 * rooted there, is open: it counts neither way.
 */
export function observingRoot(
  breakdown: Breakdown,
  rep: Rep,
): (place: number, to?: number) => RootObservation {
  const surface = observing(breakdown, rep);
  const { ofMistake, mostly, shows } = rootsOf(breakdown);
  const stop = rep.outcome === 'stopped' ? placeOf(breakdown, rep.stop) : -1;
  return (place, to = shows[place]!.at(-1)!) => {
    if (surface(place) === 'failed') return 'failed';
    const { id } = breakdown.checkpoints[place]!;
    if (rep.outcome === 'stopped' && stop > place) {
      if (rep.cause === null && mostly.get(rep.stop) === id) return 'open';
      if (rep.cause !== null && ofMistake.get(rep.cause) === id) return 'failed';
    }
    return surface(to) === 'not seen' ? 'not seen' : 'held';
  };
}
