import type { Id } from '@ulkret/core/breakdown';
import type { AcademyKnown } from '@ulkret/core/facts';
import { LRUCache } from 'lru-cache';
import { coachesOf } from '../access/coaches';
import type { Db } from '../db/connect';
import { editionsOf } from '../library/techniques';
import { roster } from '../people/roster';

/** What of an academy facts are checked against; the reps that they name are looked up batch by batch. */
type AcademyFacts = Omit<AcademyKnown, 'repOf' | 'noteOf' | 'sessionOf' | 'now' | 'sender'>;
interface Remembered extends AcademyFacts {
  editions: Map<Id, AcademyFacts['editions'] extends ReadonlyMap<Id, infer E> ? E : never>;
}

const remembered = new LRUCache<Id, Remembered>({ max: 200, ttl: 30_000 });
/**
 * Roster, coaches and editions of an academy, at most half a minute old. Nobody may be turned away by an old list, nor let in who
 * has been erased since: `fresh` reads again.
 */
export async function knownOf(
  db: Db,
  academyId: Id,
  techniques: readonly Id[],
  fresh = false,
): Promise<AcademyFacts> {
  const usable = fresh ? undefined : remembered.get(academyId);
  const known: Remembered = usable ?? {
    students: new Map((await roster(db, academyId)).map((one) => [one.id, one])),
    observers: new Set((await coachesOf(db, academyId)).map(({ id }) => id)),
    editions: new Map(),
  };
  const missing = techniques.filter((id) => !known.editions.has(id));
  if (missing.length > 0)
    for (const [id, editions] of await editionsOf(db, academyId, missing)) known.editions.set(id, editions);
  if (!usable) remembered.set(academyId, known);
  return known;
}
