import type { Breakdown, Id } from '@ulkret/core/breakdown';
import type { Student } from '@ulkret/core/people';
import { coachesOf } from './db/coaches';
import type { Db } from './db/connect';
import { roster } from './db/people';
import { editionsOf } from './db/techniques';

/** What the facts of an academy are checked against. */
export interface Known {
  students: ReadonlyMap<Id, Student>;
  observers: ReadonlySet<Id>;
  editions: Map<Id, ReadonlyMap<number, Breakdown>>;
}

const lastsMs = 30_000;
const mostAcademies = 200;
const remembered = new Map<Id, { known: Known; at: number }>();

/**
 * Roster, coaches and editions of an academy, at most half a minute old: people and editions come and are never taken away,
 * so whoever is known may be let in by an old list. Nobody may be turned away by one: `fresh` reads again.
 */
export async function knownOf(
  db: Db,
  academyId: Id,
  techniques: readonly Id[],
  fresh = false,
): Promise<Known> {
  const before = remembered.get(academyId);
  const usable = !fresh && before && Date.now() - before.at < lastsMs ? before.known : null;
  const known = usable ?? {
    students: new Map((await roster(db, academyId)).map((one) => [one.id, one])),
    observers: new Set((await coachesOf(db, academyId)).map(({ id }) => id)),
    editions: new Map(),
  };
  const missing = techniques.filter((id) => !known.editions.has(id));
  if (missing.length > 0)
    for (const [id, editions] of await editionsOf(db, academyId, missing)) known.editions.set(id, editions);
  if (!usable) {
    remembered.delete(academyId);
    remembered.set(academyId, { known, at: Date.now() });
    for (const old of [...remembered.keys()].slice(0, -mostAcademies)) remembered.delete(old);
  }
  return known;
}
