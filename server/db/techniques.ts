import type { Breakdown, Id, Technique } from '@ulkret/core/breakdown';
import type { Editions } from '@ulkret/core/reading';
import type { TechniqueRow } from '@ulkret/contract';
import { and, count, eq, inArray } from 'drizzle-orm';
import type { Db } from './connect';
import { notVoided } from './facts';
import { breakdowns, reps, techniques } from './schema';

/** One technique with all its published editions, the latest last; null where the academy has none of that id. */
export async function technique(
  db: Db,
  academyId: Id,
  id: Id,
): Promise<{ technique: Technique; editions: Breakdown[] } | null> {
  const [found] = await db
    .select({ technique: techniques.technique })
    .from(techniques)
    .where(and(eq(techniques.academyId, academyId), eq(techniques.id, id)));
  if (!found) return null;
  const editions = await db
    .select({ breakdown: breakdowns.breakdown })
    .from(breakdowns)
    .where(and(eq(breakdowns.academyId, academyId), eq(breakdowns.techniqueId, id)))
    .orderBy(breakdowns.edition);
  return { technique: found.technique, editions: editions.map(({ breakdown }) => breakdown) };
}

/** Every published edition of the given techniques, by technique and number. */
export async function editionsOf(db: Db, academyId: Id, ids: readonly Id[]): Promise<Map<Id, Editions>> {
  const found = new Map<Id, Map<number, Breakdown>>(ids.map((id) => [id, new Map()]));
  if (ids.length === 0) return found;
  const rows = await db
    .select()
    .from(breakdowns)
    .where(and(eq(breakdowns.academyId, academyId), inArray(breakdowns.techniqueId, [...ids])));
  for (const { techniqueId, edition, breakdown } of rows) found.get(techniqueId)!.set(edition, breakdown);
  return found;
}

/** Id and name of every technique, for files that name one or the other. */
export const techniqueNames = (db: Db, academyId: Id) =>
  db
    .select({ id: techniques.id, name: techniques.name })
    .from(techniques)
    .where(eq(techniques.academyId, academyId));

export async function library(db: Db, academyId: Id): Promise<TechniqueRow[]> {
  const [rows, editions, counted] = await Promise.all([
    db.select().from(techniques).where(eq(techniques.academyId, academyId)).orderBy(techniques.name),
    db.select().from(breakdowns).where(eq(breakdowns.academyId, academyId)).orderBy(breakdowns.edition),
    db
      .select({ technique: reps.technique, reps: count() })
      .from(reps)
      .where(and(eq(reps.academyId, academyId), notVoided))
      .groupBy(reps.technique),
  ]);
  return rows.flatMap(({ id, technique: one }): TechniqueRow[] => {
    const own = editions.filter(({ techniqueId }) => techniqueId === id);
    const latest = own.at(-1);
    if (!latest) return [];
    return [
      {
        technique: one,
        edition: latest.edition,
        editions: own.length,
        strand: latest.breakdown.checkpoints.map(({ id: checkpoint, kind, belief }) => ({
          id: checkpoint,
          kind,
          belief,
        })),
        reps: counted.find((row) => row.technique === id)?.reps ?? 0,
      },
    ];
  });
}

export async function addTechnique(
  db: Db,
  academyId: Id,
  { technique: one, editions }: { technique: Technique; editions: readonly Breakdown[] },
): Promise<void> {
  await db.insert(techniques).values({ academyId, id: one.id, name: one.name, technique: one });
  await db.insert(breakdowns).values(
    editions.map((breakdown) => ({
      academyId,
      techniqueId: one.id,
      edition: breakdown.edition,
      breakdown,
    })),
  );
}
