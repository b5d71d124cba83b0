import type { Id } from '@ulkret/core/breakdown';
import { eq, sql } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { readingVersions } from '../db/schema';

/** Says that readings of an academy may be others from now on: its tallies, its people or its editions have changed. */
export async function readingsChanged(db: Db, academyId: Id): Promise<void> {
  await db
    .insert(readingVersions)
    .values({ academyId })
    .onConflictDoUpdate({
      target: readingVersions.academyId,
      set: { version: sql`${readingVersions.version} + 1` },
    });
}

/** A number that is another one whenever what readings are made of has changed. */
export async function versionOf(db: Db, academyId: Id): Promise<number> {
  const [found] = await db
    .select({ version: readingVersions.version })
    .from(readingVersions)
    .where(eq(readingVersions.academyId, academyId));
  return found?.version ?? 0;
}
