import type { Breakdown, Draft, Id, Technique } from '@ulkret/core/breakdown';
import type { SavedDraft } from '@ulkret/contract';
import { and, eq, max, sql } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { breakdowns, drafts, techniques } from '../db/schema';
import { addTechnique } from './techniques';

const at = (academyId: Id, technique: Id) =>
  and(eq(drafts.academyId, academyId), eq(drafts.techniqueId, technique));

export async function draftOf(db: Db, academyId: Id, technique: Id): Promise<SavedDraft | null> {
  const [found] = await db.select().from(drafts).where(at(academyId, technique));
  if (!found) return null;
  const { technique: one, draft, revision, savedBy, savedAt } = found;
  return { technique: one, draft, revision, savedBy, savedAt };
}

/** The latest edition when a draft was begun; null where there is no draft. */
export async function begunFrom(db: Db, academyId: Id, technique: Id): Promise<number | null> {
  const [found] = await db
    .select({ begunFrom: drafts.begunFrom })
    .from(drafts)
    .where(at(academyId, technique));
  return found?.begunFrom ?? null;
}

/** Saves a draft that began from a revision; null, and nothing saved, where there is another one by now. */
export async function saveDraft(
  db: Db,
  academyId: Id,
  { technique, draft, revision }: Pick<SavedDraft, 'technique' | 'draft' | 'revision'>,
  savedBy: string,
): Promise<SavedDraft | null> {
  const values = { technique, draft, revision: revision + 1, savedBy };
  const saved =
    revision === 0
      ? await db
          .insert(drafts)
          .values({
            academyId,
            techniqueId: technique.id,
            begunFrom: await latestNumber(db, academyId, technique.id),
            ...values,
          })
          .onConflictDoNothing()
          .returning()
      : await db
          .update(drafts)
          .set({ ...values, savedAt: sql`now()` })
          .where(and(at(academyId, technique.id), eq(drafts.revision, revision)))
          .returning();
  const [row] = saved;
  return row ? { ...values, savedAt: row.savedAt } : null;
}

export async function discardDraft(db: Db, academyId: Id, technique: Id): Promise<boolean> {
  return db.transaction(async (tx) => {
    const gone = await tx
      .delete(drafts)
      .where(at(academyId, technique))
      .returning({ id: drafts.techniqueId });
    if (gone.length > 0 && (await latestNumber(tx, academyId, technique)) === 0)
      await tx
        .delete(techniques)
        .where(and(eq(techniques.academyId, academyId), eq(techniques.id, technique)));
    return gone.length > 0;
  });
}

/** The number of the latest published edition; 0 where there is none. */
export async function latestNumber(db: Db, academyId: Id, technique: Id): Promise<number> {
  const [found] = await db
    .select({ edition: max(breakdowns.edition) })
    .from(breakdowns)
    .where(and(eq(breakdowns.academyId, academyId), eq(breakdowns.techniqueId, technique)));
  return found?.edition ?? 0;
}

/** Begins a technique with an empty draft; false where the id is taken. */
export async function beginTechnique(db: Db, academyId: Id, one: Technique, draft: Draft, by: string) {
  return db.transaction(async (tx) => {
    const made = await tx
      .insert(techniques)
      .values({ academyId, id: one.id, name: one.name, technique: one })
      .onConflictDoNothing()
      .returning({ id: techniques.id });
    if (made.length === 0) return null;
    return saveDraft(tx, academyId, { technique: one, draft, revision: 0 }, by);
  });
}

/** Makes the draft of a revision an edition; false where somebody saved in between. */
export const publishDraft = (
  db: Db,
  academyId: Id,
  revision: number,
  technique: Technique,
  breakdown: Breakdown,
): Promise<boolean> =>
  db.transaction(async (tx) => {
    const gone = await tx
      .delete(drafts)
      .where(and(at(academyId, technique.id), eq(drafts.revision, revision)))
      .returning({ id: drafts.techniqueId });
    if (gone.length === 0) return false;
    await addTechnique(tx, academyId, { technique, editions: [breakdown] });
    return true;
  });
