import type { Id } from '@ulkret/core/breakdown';
import type { CauseTag, Facts, Rep, SecondLook, Void } from '@ulkret/core/rep';
import { and, eq, getTableColumns, gte, inArray, lt, type SQL, sql } from 'drizzle-orm';
import type { AnyPgTable } from 'drizzle-orm/pg-core';
import type { Db } from './connect';
import { causeTags, reps, secondLooks, voids } from './schema';

/** Which facts are asked for; what is left out is not asked. */
export interface RepFilter {
  technique?: Id;
  student?: Id;
  session?: string;
  /** Instants: from the first on, and before the second. */
  since?: string | undefined;
  until?: string | undefined;
}

type RepRow = typeof reps.$inferSelect;

const toRep = ({ academyId: _, receivedAt: __, stop, failed, heldTo, ...told }: RepRow): Rep =>
  ({
    ...told,
    ...(told.outcome === 'stopped' && { stop }),
    ...(told.outcome === 'forced' && { failed }),
    ...(told.outcome === 'not judged' && { heldTo }),
  }) as Rep;

const toRow = (rep: Rep) => ({
  ...rep,
  stop: rep.outcome === 'stopped' ? rep.stop : null,
  failed: rep.outcome === 'forced' ? rep.failed : null,
  held_to: rep.outcome === 'not judged' ? rep.heldTo : null,
});

const withoutAcademy = <T extends { academyId: string }>({
  academyId: _,
  ...rest
}: T): Omit<T, 'academyId'> => rest;

/** For counting in SQL: the rep of this row has not been voided. What a count says must be what a reading says. */
export const notVoided: SQL = sql`not exists (
  select 1 from ${voids} where ${voids.academyId} = ${reps.academyId} and ${voids.rep} = ${reps.id})`;

/** The facts that fit a filter: reps in no order, with every void and tag that names one of them. */
export async function factsOf(
  db: Db,
  academyId: Id,
  { technique, student, session, since, until }: RepFilter,
): Promise<Facts> {
  return factsWhere(
    db,
    academyId,
    and(
      technique === undefined ? undefined : eq(reps.technique, technique),
      student === undefined ? undefined : eq(reps.student, student),
      session === undefined ? undefined : eq(reps.session, session),
      since === undefined ? undefined : gte(reps.at, since),
      until === undefined ? undefined : lt(reps.at, until),
    ),
  );
}

/** The facts of an academy whose reps fit a condition. */
export async function factsWhere(db: Db, academyId: Id, which: SQL | undefined): Promise<Facts> {
  const repRows = await db
    .select()
    .from(reps)
    .where(and(eq(reps.academyId, academyId), which));
  // By their ids in one parameter, and one after the other: a transaction has only one connection.
  const ids = `{${repRows.map(({ id }) => id).join()}}`;
  const voidRows = await db
    .select()
    .from(voids)
    .where(and(eq(voids.academyId, academyId), sql`${voids.rep} = any(${ids}::uuid[])`));
  const tagRows = await db
    .select()
    .from(causeTags)
    .where(and(eq(causeTags.academyId, academyId), sql`${causeTags.rep} = any(${ids}::uuid[])`));
  return { reps: repRows.map(toRep), voids: voidRows.map(withoutAcademy), tags: tagRows.map(withoutAcademy) };
}

export async function repsById(db: Db, academyId: Id, ids: string[]): Promise<Rep[]> {
  const rows = await db
    .select()
    .from(reps)
    .where(and(eq(reps.academyId, academyId), inArray(reps.id, ids)));
  return rows.map(toRep);
}

export async function voidsById(db: Db, academyId: Id, ids: string[]): Promise<Void[]> {
  const rows = await db
    .select()
    .from(voids)
    .where(and(eq(voids.academyId, academyId), inArray(voids.id, ids)));
  return rows.map(withoutAcademy);
}

export async function tagsById(db: Db, academyId: Id, ids: string[]): Promise<CauseTag[]> {
  const rows = await db
    .select()
    .from(causeTags)
    .where(and(eq(causeTags.academyId, academyId), inArray(causeTags.id, ids)));
  return rows.map(withoutAcademy);
}

export async function looksById(db: Db, academyId: Id, ids: string[]): Promise<SecondLook[]> {
  const rows = await db
    .select()
    .from(secondLooks)
    .where(and(eq(secondLooks.academyId, academyId), inArray(secondLooks.id, ids)));
  return rows.map(withoutAcademy);
}

/** The second looks at reps of one technique. */
export async function looksAt(db: Db, academyId: Id, technique: Id): Promise<SecondLook[]> {
  const named = db
    .select({ id: reps.id })
    .from(reps)
    .where(and(eq(reps.academyId, academyId), eq(reps.technique, technique)));
  const rows = await db
    .select()
    .from(secondLooks)
    .where(and(eq(secondLooks.academyId, academyId), inArray(secondLooks.rep, named)));
  return rows.map(withoutAcademy);
}

/** Every tag that names one of these reps. */
export async function tagsOfReps(db: Db, academyId: Id, ids: string[]): Promise<CauseTag[]> {
  const rows = await db
    .select()
    .from(causeTags)
    .where(and(eq(causeTags.academyId, academyId), inArray(causeTags.rep, ids)));
  return rows.map(withoutAcademy);
}

const columnNames = (table: AnyPgTable): string[] =>
  Object.values(getTableColumns(table))
    .map(({ name }) => name)
    .filter((name) => name !== 'academy_id' && name !== 'received_at');

/**
 * Adds facts that are not there yet, in one statement, and answers with the ids that were new. One parameter holds
 * all rows, so that a batch of thousands costs one plan and one round trip.
 */
async function add(db: Db, academyId: Id, table: AnyPgTable, rows: readonly object[]): Promise<Set<string>> {
  if (rows.length === 0) return new Set();
  const columns = columnNames(table).map((name) => sql.identifier(name));
  const list = (parts: SQL[]) => sql.join(parts, sql`, `);
  const { rows: added } = await db.execute<{ id: string }>(sql`
    insert into ${table} (academy_id, ${list(columns.map((column) => sql`${column}`))})
    select ${academyId}, ${list(columns.map((column) => sql`new_facts.${column}`))}
    from jsonb_populate_recordset(null::${table}, ${JSON.stringify(rows)}::jsonb) as new_facts
    on conflict do nothing
    returning id`);
  return new Set(added.map(({ id }) => id));
}

export const addReps = (db: Db, academyId: Id, list: readonly Rep[]) =>
  add(db, academyId, reps, list.map(toRow));
export const addVoids = (db: Db, academyId: Id, list: readonly Void[]) => add(db, academyId, voids, list);
export const addTags = (db: Db, academyId: Id, list: readonly CauseTag[]) =>
  add(db, academyId, causeTags, list);
export const addLooks = (db: Db, academyId: Id, list: readonly SecondLook[]) =>
  add(db, academyId, secondLooks, list);
