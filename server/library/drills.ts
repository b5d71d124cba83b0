import type { Id } from '@ulkret/core/breakdown';
import { type Drill, shippedDrills } from '@ulkret/core/drills';
import { eq } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { drills } from '../db/schema';
import { overShipped } from './shipped';

/** The drills of an academy, by their titles. */
export async function drillsOf(db: Db, academyId: Id): Promise<Drill[]> {
  const own = await db.select().from(drills).where(eq(drills.academyId, academyId));
  return overShipped(
    own.map(({ drill }) => drill),
    shippedDrills,
  );
}

export async function saveDrill(db: Db, academyId: Id, drill: Drill): Promise<Drill> {
  await db
    .insert(drills)
    .values({ academyId, id: drill.id, drill })
    .onConflictDoUpdate({ target: [drills.academyId, drills.id], set: { drill } });
  return drill;
}

/** What a drill asks for that would hurt a partner; null where it surely asks for nothing. */
export async function harmInDrill({ setUp, constraint, cue, task }: Drill): Promise<string | null> {
  const { harmIn } = await import('@ulkret/core/breakdown/critique');
  return [setUp, constraint, cue, task].map(harmIn).find((harm) => harm?.sure)?.words ?? null;
}
