import type { Id } from '@ulkret/core/breakdown';
import type { CareNote, Override } from '@ulkret/core/care';
import type { CauseTag, Facts, Rep, SecondLook, Void } from '@ulkret/core/rep';
import type { FactKind, FactOf, LiveFacts } from '@ulkret/contract';
import { and, eq, getTableColumns, gte, inArray, lt, or, type SQL, sql } from 'drizzle-orm';
import type { AnyPgTable } from 'drizzle-orm/pg-core';
import type { Db } from './connect';
import { careNotes, causeTags, changes, overrides, reps, secondLooks, voids } from './schema';

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

/** Every void that names one of these reps. */
export async function voidsOfReps(db: Db, academyId: Id, ids: readonly string[]): Promise<Void[]> {
  const rows = await db
    .select()
    .from(voids)
    .where(and(eq(voids.academyId, academyId), inArray(voids.rep, [...ids])));
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

const tables = {
  reps,
  voids,
  tags: causeTags,
  looks: secondLooks,
  notes: careNotes,
  overrides,
  changes,
} satisfies Record<FactKind, AnyPgTable>;

/** Adds facts of one kind that are not there yet and answers with the ids that were new. */
export const addFacts = <K extends FactKind>(
  db: Db,
  academyId: Id,
  kind: K,
  list: readonly FactOf<K>[],
): Promise<Set<string>> =>
  add(db, academyId, tables[kind], kind === 'reps' ? (list as readonly Rep[]).map(toRow) : list);

/** The facts of one kind that have these ids. */
export async function factsById<K extends FactKind>(
  db: Db,
  academyId: Id,
  kind: K,
  ids: readonly string[],
): Promise<FactOf<K>[]> {
  if (ids.length === 0) return [];
  const table = tables[kind] as typeof voids;
  const rows = await db
    .select()
    .from(table)
    .where(and(eq(table.academyId, academyId), sql`${table.id} = any(${`{${ids.join()}}`}::uuid[])`));
  return rows.map((row) =>
    kind === 'reps' ? toRep(row as unknown as RepRow) : withoutAcademy(row),
  ) as FactOf<K>[];
}

/** Every fact of one session. */
export async function sessionFacts(db: Db, academyId: Id, session: string): Promise<LiveFacts['facts']> {
  const { reps: repList, voids: voidList, tags } = await factsOf(db, academyId, { session });
  const of = async (table: typeof careNotes | typeof overrides | typeof changes) =>
    (
      await db
        .select()
        .from(table as typeof changes)
        .where(and(eq(table.academyId, academyId), eq(table.session, session)))
    ).map(withoutAcademy);
  return {
    reps: [...repList],
    voids: [...voidList],
    tags: [...tags],
    notes: (await of(careNotes)) as unknown as CareNote[],
    overrides: (await of(overrides)) as unknown as Override[],
    changes: await of(changes),
  };
}

/** The care notes of an academy that reach to a day (ISO date) or beyond, and those that they replace. */
export async function careNotesFrom(db: Db, academyId: Id, day: string): Promise<CareNote[]> {
  const rows = await db
    .select()
    .from(careNotes)
    .where(
      and(
        eq(careNotes.academyId, academyId),
        // A note that lifts another may end sooner than what it lifts: all that were written since count.
        or(gte(careNotes.until, day), gte(careNotes.at, `${day}T00:00:00Z`)),
      ),
    );
  return rows.map(withoutAcademy) as CareNote[];
}
