import { setImmediate as rest } from 'node:timers/promises';
import {
  type Breakdown,
  type Draft,
  type Finding,
  type Id,
  type Library,
  searchableOf,
  type Technique,
} from '@ulkret/core/breakdown';
import type { EditionsByNumber } from '@ulkret/core/reading';
import type { TechniqueRow, TechniqueSummary } from '@ulkret/contract';
import { and, count, desc, eq, inArray, isNull } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { critic } from './critic';
import { notVoided } from '../facts/read';
import { readingsChanged } from '../signals/version';
import { academies, breakdowns, drafts, reps, techniques } from '../db/schema';

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
export async function editionsOf(
  db: Db,
  academyId: Id,
  ids: readonly Id[],
): Promise<Map<Id, EditionsByNumber>> {
  const found = new Map<Id, Map<number, Breakdown>>(ids.map((id) => [id, new Map()]));
  if (ids.length === 0) return found;
  const rows = await db
    .select()
    .from(breakdowns)
    .where(and(eq(breakdowns.academyId, academyId), inArray(breakdowns.techniqueId, [...ids])));
  for (const { techniqueId, edition, breakdown } of rows) found.get(techniqueId)!.set(edition, breakdown);
  return found;
}

/** The latest published edition of a technique; null where there is none. */
export async function latestEdition(db: Db, academyId: Id, technique: Id): Promise<Breakdown | null> {
  const [found] = await db
    .select({ breakdown: breakdowns.breakdown })
    .from(breakdowns)
    .where(and(eq(breakdowns.academyId, academyId), eq(breakdowns.techniqueId, technique)))
    .orderBy(desc(breakdowns.edition))
    .limit(1);
  return found?.breakdown ?? null;
}

/** The latest edition of every technique that has one. */
export async function latestEditions(db: Db, academyId: Id): Promise<Map<Id, Breakdown>> {
  const rows = await db
    .selectDistinctOn([breakdowns.techniqueId])
    .from(breakdowns)
    .where(eq(breakdowns.academyId, academyId))
    .orderBy(breakdowns.techniqueId, desc(breakdowns.edition));
  return new Map(rows.map(({ techniqueId, breakdown }) => [techniqueId, breakdown]));
}

/** Every technique of an academy with all its published editions; those without one are left out. */
export async function wholeLibrary(
  db: Db,
  academyId: Id,
  only?: Id,
): Promise<{ technique: Technique; editions: Breakdown[] }[]> {
  const rows = await db
    .select({ technique: techniques.technique })
    .from(techniques)
    .where(and(eq(techniques.academyId, academyId), only === undefined ? undefined : eq(techniques.id, only)))
    .orderBy(techniques.id);
  const ids = rows.map(({ technique: one }) => one.id);
  const editions = await editionsOf(db, academyId, ids);
  return rows
    .map(({ technique: one }) => ({
      technique: one,
      editions: [...editions.get(one.id)!.values()].sort((a, b) => a.edition - b.edition),
    }))
    .filter(({ editions: list }) => list.length > 0);
}

/** Id and name of every technique, for files that name one or the other. */
export const techniqueNames = (db: Db, academyId: Id) =>
  db
    .select({ id: techniques.id, name: techniques.name })
    .from(techniques)
    .where(eq(techniques.academyId, academyId));

const summaryOf = (
  technique: Technique,
  editions: number,
  latest: Draft,
  findings: readonly Finding[],
): TechniqueSummary => {
  const errors = findings.filter(({ severity }) => severity === 'error').length;
  return {
    edition: editions === 0 ? 0 : latest.edition,
    editions,
    strand: latest.checkpoints.map(({ id, kind, belief, title }) => ({ id, kind, belief, title })),
    errors,
    warnings: findings.length - errors,
    words: searchableOf(technique, latest).checkpoints,
  };
};

/** The checkpoints of each technique, as the critique of another one must know them: also of one that has no summary yet. */
export async function checkpointsOf(db: Db, academyId: Id): Promise<Library> {
  const rows = await db
    .select({ id: techniques.id, summary: techniques.summary })
    .from(techniques)
    .where(eq(techniques.academyId, academyId));
  const unread = rows.flatMap(({ id, summary }) => (summary ? [] : [id]));
  const latest = new Map<Id, readonly { id: Id }[]>(
    [...(await editionsOf(db, academyId, unread))].flatMap(([id, editions]) =>
      editions.size > 0 ? [[id, editions.get(Math.max(...editions.keys()))!.checkpoints] as const] : [],
    ),
  );
  const known = new Map(
    rows.map(({ id, summary }) => [id, (summary?.strand ?? latest.get(id) ?? []).map((one) => one.id)]),
  );
  return (id) => known.get(id) ?? null;
}

/** Makes the summaries that are missing: of techniques that are new here or were changed. */
async function fillSummaries(db: Db, academyId: Id): Promise<void> {
  const missing = await db
    .select({ id: techniques.id, technique: techniques.technique })
    .from(techniques)
    .where(and(eq(techniques.academyId, academyId), isNull(techniques.summary)));
  if (missing.length === 0) return;
  const ids = missing.map(({ id }) => id);
  const editions = await editionsOf(db, academyId, ids);
  const written = await db
    .select()
    .from(drafts)
    .where(and(eq(drafts.academyId, academyId), inArray(drafts.techniqueId, ids)));
  const latestOf = (id: Id): Draft | undefined => {
    const own = editions.get(id)!;
    return own.get(Math.max(...own.keys())) ?? written.find(({ techniqueId }) => techniqueId === id)?.draft;
  };
  const settled = await checkpointsOf(db, academyId);
  const library: Library = (id) =>
    ids.includes(id) ? (latestOf(id)?.checkpoints.map((one) => one.id) ?? []) : settled(id);
  const critique = await critic();
  for (const { id, technique: one } of missing) {
    // The critique of a large library takes its time: others are answered in between.
    await rest();
    const latest = latestOf(id);
    if (!latest) continue;
    const summary = summaryOf(one, editions.get(id)!.size, latest, critique(latest, one, library));
    await db
      .update(techniques)
      .set({ summary })
      .where(and(eq(techniques.academyId, academyId), eq(techniques.id, id)));
  }
}

/** The library, a row a technique; what its start is called the positions say. */
export async function library(db: Db, academyId: Id): Promise<Omit<TechniqueRow, 'position'>[]> {
  await fillSummaries(db, academyId);
  const [rows, written, counted] = await Promise.all([
    db.select().from(techniques).where(eq(techniques.academyId, academyId)).orderBy(techniques.name),
    db.select({ id: drafts.techniqueId }).from(drafts).where(eq(drafts.academyId, academyId)),
    db
      .select({ technique: reps.technique, reps: count() })
      .from(reps)
      .where(and(eq(reps.academyId, academyId), notVoided))
      .groupBy(reps.technique),
  ]);
  const drafted = new Set(written.map(({ id }) => id));
  const repsOf = new Map(counted.map((row) => [row.technique, row.reps]));
  return rows.flatMap(({ id, technique: one, summary }) =>
    summary ? [{ technique: one, ...summary, draft: drafted.has(id), reps: repsOf.get(id) ?? 0 }] : [],
  );
}

/** Writes a technique and adds editions to those that it has. */
export async function addTechnique(
  db: Db,
  academyId: Id,
  { technique: one, editions }: { technique: Technique; editions: readonly Breakdown[] },
): Promise<void> {
  const row = { name: one.name, technique: one, summary: null };
  await db
    .insert(techniques)
    .values({ academyId, id: one.id, ...row })
    .onConflictDoUpdate({ target: [techniques.academyId, techniques.id], set: row });
  if (editions.length === 0) return;
  await readingsChanged(db, academyId);
  await db.insert(breakdowns).values(
    editions.map((breakdown) => ({
      academyId,
      techniqueId: one.id,
      edition: breakdown.edition,
      breakdown,
    })),
  );
}

/** Adds the techniques of which the library has none of that id, and answers with their ids: what is there stays as it is. */
export const addMissing = (
  db: Db,
  academyId: Id,
  list: readonly { technique: Technique; editions: readonly Breakdown[] }[],
): Promise<Id[]> =>
  db.transaction(async (tx) => {
    // Two who press at once take turns.
    await tx.select().from(academies).where(eq(academies.academyId, academyId)).for('update');
    const there = new Set((await techniqueNames(tx, academyId)).map(({ id }) => id));
    const missing = list.filter(({ technique: { id } }) => !there.has(id));
    for (const one of missing) await addTechnique(tx, academyId, one);
    return missing.map(({ technique: { id } }) => id);
  });

/** Lets summaries be made again: of what leads to something that has changed. */
export async function forgetSummaries(db: Db, academyId: Id, ids: readonly Id[]): Promise<void> {
  if (ids.length === 0) return;
  await db
    .update(techniques)
    .set({ summary: null })
    .where(and(eq(techniques.academyId, academyId), inArray(techniques.id, [...ids])));
}
