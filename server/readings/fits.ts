import type { Id } from '@ulkret/core/breakdown';
import type { Scales } from '@ulkret/core/hazard';
import { eq, sql } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { fits } from '../db/schema';

/** The scales of an academy's last fit, or null where there was none. */
export async function fitOf(
  db: Db,
  academyId: Id,
): Promise<{ scales: Scales; model: string; madeAt: string } | null> {
  const [found] = await db.select().from(fits).where(eq(fits.academyId, academyId));
  if (!found) return null;
  const { student, deviation, fall, model, madeAt } = found;
  return { scales: { student, deviation, ...(fall !== null && { fall }) }, model, madeAt };
}

export async function keepFit(db: Db, academyId: Id, model: string, scales: Scales): Promise<void> {
  const set = { model, ...scales, madeAt: sql`now()` };
  await db
    .insert(fits)
    .values({ academyId, ...set })
    .onConflictDoUpdate({ target: fits.academyId, set });
}
