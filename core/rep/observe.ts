import { answersOf, type Breakdown, causesAt, type Id, placeOf } from '../breakdown';
import type { Rep } from './rep';

export type Observation = 'held' | 'soft' | 'failed' | 'not seen';

/** First and last place of a rep's span in its edition, both included, from 0. */
export function spanOf(breakdown: Breakdown, rep: Pick<Rep, 'from' | 'to'>): { first: number; last: number } {
  const first = rep.from === null ? 0 : placeOf(breakdown, rep.from);
  const last = rep.to === null ? breakdown.checkpoints.length - 1 : placeOf(breakdown, rep.to);
  return { first, last };
}

/** The last place (from 0) of which a rep says something; before its span where it says nothing. */
export function seenTo(breakdown: Breakdown, rep: Rep): number {
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

/** What is wrong with a rep, and in which of its fields. */
export interface RepFault {
  field: 'from' | 'to' | 'soft' | 'stop' | 'partner' | 'cause' | 'ways' | 'task' | 'measured' | 'met' | 'by';
  reason: string;
}

/** Why a rep cannot be true of its edition, or null where it can. */
export function faultOf(breakdown: Breakdown, rep: Rep): RepFault | null {
  const named: [RepFault['field'], Id][] = [];
  if (rep.from !== null) named.push(['from', rep.from]);
  if (rep.to !== null) named.push(['to', rep.to]);
  for (const id of rep.soft) named.push(['soft', id]);
  if (rep.outcome === 'stopped') named.push(['stop', rep.stop]);
  if (rep.outcome === 'forced') for (const id of rep.failed) named.push(['stop', id]);
  if ((rep.outcome === 'not judged' || rep.outcome === 'left') && rep.heldTo !== null)
    named.push(['stop', rep.heldTo]);
  for (const { checkpoint } of rep.measured ?? []) named.push(['measured', checkpoint]);

  for (const [field, id] of named)
    if (placeOf(breakdown, id) < 0)
      return {
        field,
        reason: `edition ${breakdown.edition} of ${breakdown.technique} has no checkpoint "${id}"`,
      };
  const { first, last } = spanOf(breakdown, rep);
  if (first > last)
    return { field: 'to', reason: `the span ends ("${rep.to}") before it starts ("${rep.from}")` };
  for (const [field, id] of named) {
    const place = placeOf(breakdown, id);
    if (place < first || place > last)
      return { field, reason: `"${id}" is outside the span that was drilled` };
  }
  if (rep.partner === rep.student)
    return { field: 'partner', reason: 'a student cannot be their own partner' };
  const said = saidFault(breakdown, rep);
  if (said || rep.cause === null) return said;
  if (rep.outcome !== 'stopped') return { field: 'cause', reason: 'only a rep that stopped has a cause' };
  const fault = causeFault(breakdown, rep.cause, rep.stop);
  return fault === null ? null : { field: 'cause', reason: fault };
}

/** Faults in what a rep says besides its end: variants, the partner’s task, defences met, switches. */
function saidFault(breakdown: Breakdown, rep: Rep): RepFault | null {
  const edition = `edition ${breakdown.edition} of ${breakdown.technique}`;
  const ways = new Set(breakdown.checkpoints.flatMap(({ variants }) => variants.map(({ id }) => id)));
  const way = rep.ways?.find((id) => !ways.has(id));
  if (way !== undefined) return { field: 'ways', reason: `${edition} has no way "${way}"` };
  const defenceOf = (id: Id) => breakdown.defences.find((one) => one.id === id);
  const task = rep.task?.find((id) => !defenceOf(id));
  if (task !== undefined) return { field: 'task', reason: `${edition} has no defence "${task}"` };
  for (const { defence: id, answer, worked } of rep.met ?? []) {
    const defence = defenceOf(id);
    if (!defence) return { field: 'met', reason: `${edition} has no defence "${id}"` };
    if (answer !== null && !answersOf(defence).some((one) => one.id === answer))
      return { field: 'met', reason: `"${id}" has no answer "${answer}" in ${edition}` };
    if (!worked && (rep.outcome !== 'stopped' || (rep.cause !== null && rep.cause !== id)))
      return { field: 'met', reason: `what was done about "${id}" did not work, so the rep stopped by it` };
  }
  if (rep.outcome !== 'left' || rep.by === null) return null;
  const doors = [
    ...(breakdown.exits ?? []).map((exit) => exit.id),
    ...breakdown.defences.flatMap((defence) => answersOf(defence).map(({ id }) => id)),
  ];
  return doors.includes(rep.by)
    ? null
    : { field: 'by', reason: `${edition} has no exit or answer "${rep.by}"` };
}

/** Why a cause cannot end a rep at this stop, or null where it can. */
export function causeFault(breakdown: Breakdown, cause: Id, stop: Id): string | null {
  const known = [...breakdown.mistakes, ...breakdown.defences].some(({ id }) => id === cause);
  if (!known)
    return `edition ${breakdown.edition} of ${breakdown.technique} has no mistake or defence "${cause}"`;
  return causesAt(breakdown, stop).some(({ id }) => id === cause)
    ? null
    : `"${cause}" cannot end a rep at "${stop}": it shows or opens elsewhere`;
}
