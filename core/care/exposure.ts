import { type Breakdown, type Id, placeOf, type Region, type Technique } from '../breakdown';
import { observing, type Rep, type Rung } from '../rep';
import type { Caps } from './rules';

/** How often one person was taken to the finish in a session. */
export interface Exposure {
  byRegion: ReadonlyMap<Region, number>;
  fast: number;
  /** Of the fast ones, at rung 3 or 4. */
  fastSpar: number;
}

export const unexposed: Exposure = { byRegion: new Map(), fast: 0, fastSpar: 0 };

/** The place from which on a rep loads the partner: the first finish, or the last checkpoint where none is written as one. */
const loadedFrom = ({ checkpoints }: Breakdown): number => {
  const finish = checkpoints.findIndex(({ kind }) => kind === 'finish');
  return finish < 0 ? checkpoints.length - 1 : finish;
};

/** Was a checkpoint reached from which on the partner's regions are loaded? */
export function exposes(breakdown: Breakdown, rep: Rep): boolean {
  if (rep.partner === null) return false;
  const at = observing(breakdown, rep);
  const from = loadedFrom(breakdown);
  return breakdown.checkpoints.some((_, place) => place >= from && at(place) !== 'not seen');
}

type Loading = Pick<Technique, 'regions' | 'loadSpeed' | 'kind'>;

const sparRung = 3;

/** The ledger after one more rep of which `partner` was the partner. */
export function expose(before: Exposure, breakdown: Breakdown, technique: Loading, rep: Rep): Exposure {
  if (technique.kind !== 'submission' || !exposes(breakdown, rep)) return before;
  const byRegion = new Map(before.byRegion);
  for (const region of technique.regions) byRegion.set(region, (byRegion.get(region) ?? 0) + 1);
  const fast = technique.loadSpeed === 'fast';
  return {
    byRegion,
    fast: before.fast + Number(fast),
    fastSpar: before.fastSpar + Number(fast && rep.rung >= sparRung),
  };
}

/** The exposures of everybody who partnered in these reps of one technique. */
export function exposuresOf(
  breakdown: Breakdown,
  technique: Loading,
  reps: Iterable<Rep>,
): Map<Id, Exposure> {
  const ledger = new Map<Id, Exposure>();
  for (const rep of reps)
    if (rep.partner !== null)
      ledger.set(rep.partner, expose(ledger.get(rep.partner) ?? unexposed, breakdown, technique, rep));
  return ledger;
}

/** A cap as it stands for one person: `spent` of `cap`, and what it counts. */
export interface CapState {
  counts: 'fast-acting finishes' | 'fast-acting finishes at rung 3 and 4' | `finishes on the ${Region}`;
  spent: number;
  cap: number;
}

/**
 * The caps that the next rep of a technique would count against for this partner, the fullest first; none where
 * nothing is loaded.
 */
export function capsOn(exposure: Exposure, technique: Loading, rung: Rung, caps: Caps): CapState[] {
  if (technique.kind !== 'submission') return [];
  const states: CapState[] = technique.regions.map((region) => ({
    counts: `finishes on the ${region}`,
    spent: exposure.byRegion.get(region) ?? 0,
    cap: region === 'neck' || region === 'spine' ? caps.neck : caps.joint,
  }));
  if (technique.loadSpeed === 'fast') {
    states.push({ counts: 'fast-acting finishes', spent: exposure.fast, cap: caps.fast });
    if (rung >= sparRung)
      states.push({
        counts: 'fast-acting finishes at rung 3 and 4',
        spent: exposure.fastSpar,
        cap: Math.floor(caps.fast * caps.fastSparShare),
      });
  }
  return states.sort((a, b) => a.cap - a.spent - (b.cap - b.spent));
}

/** Does a span end before the checkpoint from which on a rep loads the partner? */
export const spanSpares = (breakdown: Breakdown, to: Id | null): boolean =>
  to !== null && placeOf(breakdown, to) < loadedFrom(breakdown);

/** The checkpoint before that one: where reps end that load nobody. Null where the first one loads already. */
export const lastBeforeFinish = (breakdown: Breakdown): Id | null =>
  breakdown.checkpoints[loadedFrom(breakdown) - 1]?.id ?? null;
