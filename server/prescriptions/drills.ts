import type { Id } from '@ulkret/core/breakdown';
import { type Drill, shippedDrills } from '@ulkret/core/drills';
import { eq } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { drills } from '../db/schema';

/** The drills of an academy by their titles: its own, and what ships where it has not changed it. */
export async function drillsOf(db: Db, academyId: Id): Promise<Drill[]> {
  const own = (await db.select().from(drills).where(eq(drills.academyId, academyId))).map(
    ({ drill }) => drill,
  );
  const changed = new Set(own.map(({ id }) => id));
  return [...own, ...shippedDrills.filter(({ id }) => !changed.has(id))].sort(
    (a, b) => a.title.localeCompare(b.title) || (a.id < b.id ? -1 : 1),
  );
}

export async function saveDrill(db: Db, academyId: Id, drill: Drill): Promise<Drill> {
  await db
    .insert(drills)
    .values({ academyId, id: drill.id, drill })
    .onConflictDoUpdate({ target: [drills.academyId, drills.id], set: { drill } });
  return drill;
}
