import { type Breakdown, type Id, LoadHow, type Region, type Technique } from '../breakdown';
import { type Rep, type Rung, seenTo } from '../rep';
import { loadedFrom, loadedOn, type Loading, saysNothing, type Whom } from './loads';
import type { Caps } from './rules';

/** How often one person was loaded in a session, and how hard: each rep counts as what it came to at most. */
export interface Exposure {
  byRegion: ReadonlyMap<Region, Readonly<Record<LoadHow, number>>>;
  /** Fast finishes, and those at rung 3 or 4. */
  fast: number;
  fastSpar: number;
}

export const unexposed: Exposure = { byRegion: new Map(), fast: 0, fastSpar: 0 };

const sparRung = 3;
const never: Readonly<Record<LoadHow, number>> = { finish: 0, firm: 0, light: 0 };

/** The ledger of one of the two after one more rep. Alone, nobody is loaded. */
export function expose(
  before: Exposure,
  breakdown: Breakdown,
  technique: Loading,
  rep: Rep,
  whom: Whom = 'partner',
): Exposure {
  if (rep.rung === 0 || (whom === 'partner' && rep.partner === null)) return before;
  const { first, places } = loadedFrom(breakdown, technique, whom);
  const furthest = seenTo(breakdown, rep);
  const came = LoadHow.options.some((how) => furthest >= first[how]);
  if (!came) return before;
  const byRegion = new Map(before.byRegion);
  for (const [region, from] of places) {
    const hardest = LoadHow.options.find((how) => furthest >= from[how]);
    if (!hardest) continue;
    const counts = byRegion.get(region) ?? never;
    byRegion.set(region, { ...counts, [hardest]: counts[hardest] + 1 });
  }
  const fast = technique.loadSpeed === 'fast' && furthest >= first.finish;
  return {
    byRegion,
    fast: before.fast + Number(fast),
    fastSpar: before.fastSpar + Number(fast && rep.rung >= sparRung),
  };
}

/** The techniques at hand, by id, each with the edition that its reps are read by. */
export type Editions = ReadonlyMap<Id, { technique: Technique; breakdown: Breakdown }>;

/** A ledger's next line: a rep is read by its own technique, and loads nobody if that technique is not at hand. */
export const exposedBy =
  (editions: Editions, whom: Whom) =>
  (before: Exposure, rep: Rep): Exposure => {
    const known = editions.get(rep.technique);
    return known ? expose(before, known.breakdown, known.technique, rep, whom) : before;
  };

/** How often these reps loaded a person: as the partner, or as the student. */
export const exposureOf = (editions: Editions, reps: readonly Rep[], person: Id, whom: Whom): Exposure =>
  reps.filter((rep) => rep[whom] === person).reduce(exposedBy(editions, whom), unexposed);

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
 * fullest first; none where nothing is loaded that the house counts, and none for who is alone.
 */
export function capsOn(
  exposure: Exposure,
  technique: Loading,
  rung: Rung,
  caps: Caps,
  whom: Whom = 'partner',
): CapState[] {
  if (rung === 0) return [];
  const regions = loadedOn(technique, whom, caps.counts);
  const isFinished =
    loadedOn(technique, whom, ['finish']).length > 0 || (whom === 'partner' && saysNothing(technique));
  const states: CapState[] = regions.map((region) => ({
    counts: `finishes on the ${region}`,
    whom,
    spent: caps.counts.reduce((sum, how) => sum + (exposure.byRegion.get(region)?.[how] ?? 0), 0),
    cap: region === 'neck' || region === 'spine' ? caps.neck : caps.joint,
  }));
  if (technique.loadSpeed === 'fast' && isFinished) {
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
