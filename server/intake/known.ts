import type { Id } from '@ulkret/core/breakdown';
import type { Against } from '@ulkret/core/facts';
import { coachesOf } from '../access/coaches';
import type { Db } from '../db/connect';
import { editionsOf } from '../library/techniques';
import { roster } from '../people/roster';

/** What of an academy facts are checked against; the reps that they name are looked up batch by batch. */
type Known = Omit<Against, 'repOf' | 'sessionOf' | 'now' | 'sender'>;
interface Remembered extends Known {
  editions: Map<Id, Known['editions'] extends ReadonlyMap<Id, infer E> ? E : never>;
}

const lastsMs = 30_000;
const mostAcademies = 200;
const remembered = new Map<Id, { known: Remembered; at: number }>();
/**
 * Roster, coaches and editions of an academy, at most half a minute old. Nobody may be turned away by an old list, nor let in who
 * has been erased since: `fresh` reads again.
 */
export async function knownOf(
  db: Db,
  academyId: Id,
  techniques: readonly Id[],
  fresh = false,
): Promise<Known> {
  const before = remembered.get(academyId);
  const usable = !fresh && before && Date.now() - before.at < lastsMs ? before.known : null;
  const known: Remembered = usable ?? {
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
