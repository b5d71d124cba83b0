import type { Breakdown, Id, Region } from '../breakdown';
import { type Rep, type Rung, seenTo } from '../rep';
import { loadedFrom, loadedOn, type Loading, loadsPartner, type Whom } from './loads';
import type { Caps } from './rules';

/** How often one person was taken to the finish in a session. */
export interface Exposure {
  byRegion: ReadonlyMap<Region, number>;
  fast: number;
  /** Of the fast ones, at rung 3 or 4. */
  fastSpar: number;
}

export const unexposed: Exposure = { byRegion: new Map(), fast: 0, fastSpar: 0 };

const sparRung = 3;

/** The ledger of one of the two after one more rep. */
export function expose(
  before: Exposure,
  breakdown: Breakdown,
  technique: Loading,
  rep: Rep,
  whom: Whom = 'partner',
): Exposure {
  if (whom === 'partner' && rep.partner === null) return before;
  const { first, places } = loadedFrom(breakdown, technique, whom);
  const furthest = seenTo(breakdown, rep);
  if (furthest < first) return before;
  const byRegion = new Map(before.byRegion);
  for (const [region, from] of places)
    if (furthest >= from) byRegion.set(region, (byRegion.get(region) ?? 0) + 1);
  const fast = technique.loadSpeed === 'fast';
  return {
    byRegion,
    fast: before.fast + Number(fast),
    fastSpar: before.fastSpar + Number(fast && rep.rung >= sparRung),
  };
}

/** The exposures of everybody who was loaded in these reps of one technique, as a partner or by what they did themselves. */
export function exposuresOf(
  breakdown: Breakdown,
  technique: Loading,
  reps: Iterable<Rep>,
): Map<Id, Exposure> {
  const ledger = new Map<Id, Exposure>();
  const add = (person: Id, rep: Rep, whom: Whom) =>
    ledger.set(person, expose(ledger.get(person) ?? unexposed, breakdown, technique, rep, whom));
  const own = loadedFrom(breakdown, technique, 'student').places.size > 0;
  for (const rep of reps) {
    if (rep.partner !== null) add(rep.partner, rep, 'partner');
    if (own) add(rep.student, rep, 'student');
  }
  return ledger;
}

/** A cap for one person: `spent` of `cap`, and what it counts. */
export interface CapState {
  counts: 'fast-acting finishes' | 'fast-acting finishes at rung 3 and 4' | `finishes on the ${Region}`;
  /** Of the one it is done to, or of who does it. */
  whom: Whom;
  spent: number;
  cap: number;
}

/**
 * The caps that the next rep of a technique would count against for this partner (or, with `whom`, for who does it), the
 * fullest first; none where nothing is loaded.
 */
export function capsOn(
  exposure: Exposure,
  technique: Loading,
  rung: Rung,
  caps: Caps,
  whom: Whom = 'partner',
): CapState[] {
  const regions = loadedOn(technique, whom);
  if (regions.length === 0 && !(whom === 'partner' && loadsPartner(technique))) return [];
  const states: CapState[] = regions.map((region) => ({
    counts: `finishes on the ${region}`,
    whom,
    spent: exposure.byRegion.get(region) ?? 0,
    cap: region === 'neck' || region === 'spine' ? caps.neck : caps.joint,
  }));
  if (technique.loadSpeed === 'fast') {
    states.push({ counts: 'fast-acting finishes', whom, spent: exposure.fast, cap: caps.fast });
    if (rung >= sparRung)
      states.push({
        counts: 'fast-acting finishes at rung 3 and 4',
        whom,
        spent: exposure.fastSpar,
        cap: Math.floor(caps.fast * caps.fastSparShare),
      });
  }
  return states.sort((a, b) => a.cap - a.spent - (b.cap - b.spent));
}
