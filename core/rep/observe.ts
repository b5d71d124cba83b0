import { type Breakdown, type Id, placeOf } from '../breakdown';
import type { Rep } from './rep';

export type Observation = 'held' | 'soft' | 'failed' | 'not seen';

/** First and last place of a rep's span in its edition, both included, from 0. */
export function spanOf(
  breakdown: Pick<Breakdown, 'checkpoints'>,
  rep: Pick<Rep, 'from' | 'to'>,
): { first: number; last: number } {
  const first = rep.from === null ? 0 : placeOf(breakdown, rep.from);
  const last = rep.to === null ? breakdown.checkpoints.length - 1 : placeOf(breakdown, rep.to);
  return { first, last };
}

/** The last place (from 0) of which a rep says something; before its span where it says nothing. */
export function seenTo(breakdown: Pick<Breakdown, 'checkpoints'>, rep: Rep): number {
  const { first, last } = spanOf(breakdown, rep);
  switch (rep.outcome) {
    case 'stopped':
      return placeOf(breakdown, rep.stop);
    case 'not judged':
    case 'left':
      return rep.heldTo === null ? first - 1 : placeOf(breakdown, rep.heldTo);
    default:
      return last;
  }
}

/**
 * What a rep says about the checkpoint at a place (from 0) of its edition. Everything else is computed from this.
 * Expects a rep that `faultOf` accepts.
 */
export function observing(breakdown: Breakdown, rep: Rep): (place: number) => Observation {
  const { first, last } = spanOf(breakdown, rep);
  const furthest = seenTo(breakdown, rep);
  return (place) => {
    const id = breakdown.checkpoints[place]?.id;
    if (id === undefined || place < first || place > last || place > furthest) return 'not seen';
    const failed =
      rep.outcome === 'stopped' ? rep.stop === id : rep.outcome === 'forced' && rep.failed.includes(id);
    return failed ? 'failed' : rep.soft.includes(id) ? 'soft' : 'held';
  };
}

const places = new WeakMap<Breakdown, ReadonlyMap<Id, number>>();

/** The place of every checkpoint of an edition, from 0; an edition never changes, so they are looked up once. */
export function placesIn(breakdown: Breakdown): ReadonlyMap<Id, number> {
  let known = places.get(breakdown);
  if (!known) places.set(breakdown, (known = new Map(breakdown.checkpoints.map(({ id }, i) => [id, i]))));
  return known;
}

/** What a rep says about every checkpoint of its edition, in that edition's order. */
export function observe(breakdown: Breakdown, rep: Rep): Map<Id, Observation> {
  const at = observing(breakdown, rep);
  return new Map(breakdown.checkpoints.map(({ id }, place): [Id, Observation] => [id, at(place)]));
}
