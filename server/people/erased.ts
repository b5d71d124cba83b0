import type { Id } from '@ulkret/core/breakdown';
import { and, desc, eq, sql } from 'drizzle-orm';
import { z } from 'zod';
import type { Db } from '../db/connect';
import { erasures, students } from '../db/schema';
import { erase, markOf } from './erase';

/** What is left of somebody who was erased: enough to know them again when they are brought, and to nobody else. */
export const Tombstone = z.object({ academyId: z.string(), salt: z.string(), mark: z.string() });
export type Tombstone = z.infer<typeof Tombstone>;

/** How far the erasure of somebody is; null where nobody of that id was erased. */
export async function erasureOf(
  db: Db,
  academyId: Id,
  id: Id,
): Promise<{ reps: number; remadeAt: string | null } | null> {
  const [found] = await db
    .select({ reps: erasures.reps, remadeAt: erasures.remadeAt })
    .from(erasures)
    .where(
      and(
        eq(erasures.academyId, academyId),
        sql`${erasures.mark} = encode(sha256(convert_to(${erasures.salt}::text || ${id}, 'UTF8')), 'hex')`,
      ),
    )
    .orderBy(desc(erasures.at))
    .limit(1);
  return found ?? null;
}

/** The tombstones of an academy, or of all. */
export const tombstonesOf = (db: Db, academyId?: Id): Promise<Tombstone[]> =>
  db
    .select({ academyId: erasures.academyId, salt: erasures.salt, mark: erasures.mark })
    .from(erasures)
    .where(academyId === undefined ? undefined : eq(erasures.academyId, academyId));

/** Erases again who has come back with what was older than their erasure; how many they were. */
export async function obey(db: Db, tombstones: readonly Tombstone[], into?: Id): Promise<number> {
  let n = 0;
  for (const academyId of new Set(tombstones.map((one) => into ?? one.academyId))) {
    const here = await db.select({ id: students.id }).from(students).where(eq(students.academyId, academyId));
    for (const { salt, mark } of tombstones.filter((one) => (into ?? one.academyId) === academyId))
      for (const { id } of here)
        if (markOf(salt, id) === mark && (await erase(db, academyId, id)) !== null) n++;
  }
  return n;
}
