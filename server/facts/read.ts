import type { Id } from '@ulkret/core/breakdown';
import { type CareNote, untilCleared } from '@ulkret/core/care';
import {
  type FactList,
  factLists,
  type FactOf,
  type FactsByList,
  kindOf,
  noFacts,
  type RepFacts,
  standing,
} from '@ulkret/core/facts';
import type { Step } from '@ulkret/core/prescription';
import type { Rep, SecondOpinion } from '@ulkret/core/rep';
import { and, asc, eq, gt, gte, inArray, isNotNull, lt, or, type SQL, sql } from 'drizzle-orm';
import type { PgTable } from 'drizzle-orm/pg-core';
import type { Db } from '../db/connect';
import { careNotes, reps, secondOpinions, steps, voids } from '../db/schema';
import { factsAmong } from './rows';
import { factTables } from './tables';

/** Rows that are read at once, where all are. */
const atOnce = 2000;

/** Which facts are asked for; what is left out is not asked. */
export interface RepFilter {
  technique?: Id;
  student?: Id;
  session?: string;
  sessions?: readonly string[];
  /** Instants: from the first on, and before the second. */
  since?: string | undefined;
  until?: string | undefined;
}

/** For counting in SQL: no last void of this row's rep takes it away. What a count says must be what a reading says. */
export const notVoided: SQL = sql`not exists (
  select from ${voids} as last
  where last.academy_id = ${reps.academyId} and last.rep = ${reps.id} and last.restores is not true and not exists (
    select from ${voids} as later
    where later.academy_id = last.academy_id and later.rep = last.rep and (later.at, later.id) > (last.at, last.id)))`;

/** Any of these ids, in one parameter. */
export const anyOf = (ids: readonly string[]): SQL => sql`any(${`{${ids.join()}}`}::uuid[])`;

/** The facts of one kind that fit a condition, in no order. */
async function factsIn<K extends FactList>(
  db: Db,
  academyId: Id,
  list: K,
  which: SQL | undefined,
): Promise<FactOf<K>[]> {
  const table = factTables[list];
  const rows = await db
    .select()
    .from(table as PgTable)
    .where(and(eq(table.academyId, academyId), which));
  return factsAmong(list, rows);
}

/** The facts of one kind that have these ids. */
export const factsById = async <K extends FactList>(
  db: Db,
  academyId: Id,
  list: K,
  ids: readonly string[],
): Promise<FactOf<K>[]> =>
  ids.length === 0 ? [] : factsIn(db, academyId, list, sql`${factTables[list].id} = ${anyOf(ids)}`);

/** The facts of one kind that name one of these reps; none where the kind names no rep. */
export const factsNaming = async <K extends FactList>(
  db: Db,
  academyId: Id,
  list: K,
  repIds: readonly string[],
): Promise<FactOf<K>[]> =>
  repIds.length === 0 || kindOf(list).under !== 'rep'
    ? []
    : factsIn(db, academyId, list, sql`${factTables[list].rep} = ${anyOf(repIds)}`);

const fitting = ({ technique, student, session, sessions, since, until }: RepFilter): SQL | undefined =>
  and(
    technique === undefined ? undefined : eq(reps.technique, technique),
    student === undefined ? undefined : eq(reps.student, student),
    session === undefined ? undefined : eq(reps.session, session),
    sessions === undefined ? undefined : sql`${reps.session} = ${anyOf(sessions)}`,
    since === undefined ? undefined : gte(reps.at, since),
    until === undefined ? undefined : lt(reps.at, until),
  );

/** The facts that fit a filter: reps in no order, with every void and tag that names one of them. */
export const factsOf = (db: Db, academyId: Id, which: RepFilter): Promise<RepFacts> =>
  factsWhere(db, academyId, fitting(which));

/** The same in pages, each later than the one before. */
export async function* pagesOf(db: Db, academyId: Id, which: RepFilter): AsyncGenerator<RepFacts> {
  const found = await db
    .select({ id: reps.id })
    .from(reps)
    .where(and(eq(reps.academyId, academyId), fitting(which)))
    .orderBy(asc(reps.at), asc(reps.id));
  for (let from = 0; from < found.length; from += atOnce) {
    const ids = found.slice(from, from + atOnce).map(({ id }) => id);
    yield await factsWhere(db, academyId, sql`${reps.id} = ${anyOf(ids)}`);
  }
}

/** The facts of an academy whose reps fit a condition. */
export async function factsWhere(db: Db, academyId: Id, which: SQL | undefined): Promise<RepFacts> {
  const found = await factsIn(db, academyId, 'reps', which);
  const ids = found.map(({ id }) => id);
  // One after the other: a transaction has only one connection.
  const taken = await factsNaming(db, academyId, 'voids', ids);
  return { reps: found, voids: taken, tags: await factsNaming(db, academyId, 'tags', ids) };
}

/** Sequences are followed no further than this. */
const longestSequence = 20;

/** The standing reps that go on from these, and those that go on from them, whatever their technique. */
export async function repsThatFollow(db: Db, academyId: Id, ids: readonly string[]): Promise<Rep[]> {
  const found: Rep[] = [];
  let from = ids;
  for (let step = 0; from.length > 0 && step < longestSequence; step++) {
    const facts = await factsWhere(
      db,
      academyId,
      and(isNotNull(reps.follows), sql`${reps.follows} ->> 'rep' = any(${`{${from.join()}}`}::text[])`),
    );
    const known = new Set(found.map(({ id }) => id));
    const next = [...standing(facts)].filter(({ id }) => !known.has(id));
    found.push(...next);
    from = next.map(({ id }) => id);
  }
  return found;
}

/** What coaches decided about corrections, of one technique or student or of all. */
export const stepsOf = (
  db: Db,
  academyId: Id,
  { technique, student }: { technique?: Id | undefined; student?: Id | undefined },
): Promise<Step[]> =>
  factsIn(
    db,
    academyId,
    'steps',
    and(
      technique === undefined ? undefined : eq(steps.technique, technique),
      student === undefined ? undefined : eq(steps.student, student),
    ),
  );

/** The second looks at reps of one technique. */
export const looksAt = (db: Db, academyId: Id, technique: Id): Promise<SecondOpinion[]> =>
  factsIn(
    db,
    academyId,
    'looks',
    inArray(
      secondOpinions.rep,
      db
        .select({ id: reps.id })
        .from(reps)
        .where(and(eq(reps.academyId, academyId), eq(reps.technique, technique))),
    ),
  );

/** Every fact of one session. */
export async function sessionFacts(db: Db, academyId: Id, session: string): Promise<FactsByList> {
  const facts = noFacts() as Record<FactList, object[]>;
  for (const list of factLists())
    if (kindOf(list).under === 'session')
      facts[list] = await factsIn(db, academyId, list, sql`${factTables[list].session} = ${session}`);
  const ids = (facts as FactsByList).reps.map(({ id }) => id);
  for (const list of factLists())
    if (kindOf(list).under === 'rep') facts[list] = await factsNaming(db, academyId, list, ids);
  return facts as FactsByList;
}

/** The care notes of an academy that reach to a day (ISO date) or beyond, and those that they replace. */
export const careNotesFrom = (db: Db, academyId: Id, day: string): Promise<CareNote[]> =>
  factsIn(
    db,
    academyId,
    'notes',
    // A note that lifts another may end sooner than what it lifts: all that were written since count.
    or(
      gte(careNotes.until, day),
      gte(careNotes.at, `${day}T00:00:00Z`),
      // What holds until somebody is cleared holds whatever its day, and so does what lifts it.
      inArray(careNotes.why, [...untilCleared, 'cleared']),
    ),
  );

/** All rows of one kind of fact of an academy, by their ids, some at a time. */
export async function* allRows(
  db: Db,
  academyId: Id,
  list: FactList,
): AsyncGenerator<Record<string, unknown>[]> {
  const table = factTables[list];
  let after: string | null = null;
  for (;;) {
    const rows: Record<string, unknown>[] = await db
      .select()
      .from(table as PgTable)
      .where(and(eq(table.academyId, academyId), after === null ? undefined : gt(table.id, after)))
      .orderBy(asc(table.id))
      .limit(atOnce);
    if (rows.length > 0) yield rows;
    if (rows.length < atOnce) return;
    after = rows.at(-1)!['id'] as string;
  }
}

/** All facts of one kind of an academy, by their ids, some at a time. */
export async function* allFacts<K extends FactList>(
  db: Db,
  academyId: Id,
  list: K,
): AsyncGenerator<FactOf<K>[]> {
  for await (const rows of allRows(db, academyId, list)) yield factsAmong(list, rows);
}
