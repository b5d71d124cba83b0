import type { Id } from '@ulkret/core/breakdown';
import {
  type Fact,
  type FactList,
  factLists,
  type FactOf,
  type FactsByList,
  kindOf,
  noFacts,
  repNamedBy,
} from '@ulkret/core/facts';
import { and, eq, or, type SQL, sql } from 'drizzle-orm';
import type { PgTable } from 'drizzle-orm/pg-core';
import type { Db } from '../db/connect';
import { anyOf } from './read';
import { byColumn, columnNames, readRow, toRow } from './rows';
import { factTables } from './tables';

/** A row that no schema reads: an earlier release took it, or somebody put it in by hand. */
interface OddRow {
  list: FactList;
  row: Record<string, unknown>;
}

/** All facts about a person, and the odd rows that mention their id. */
export interface About {
  facts: FactsByList;
  odd: OddRow[];
}

/** Rows that say an id somewhere, as a whole word of JSON. */
const saying = (table: PgTable, id: Id): SQL => {
  const pattern = `%${JSON.stringify(id).replaceAll(/[%_\\]/g, '\\$&')}%`;
  return sql`to_jsonb(${table})::text like ${pattern}`;
};

/** The facts that name a person, and those about a rep that does. */
export async function factsAbout(db: Db, academyId: Id, person: Id): Promise<About> {
  const about: About = { facts: noFacts(), odd: [] };
  const theirReps = new Set<string>();
  for (const list of factLists()) {
    const { under, people } = kindOf(list);
    const table = factTables[list];
    const ofTheirs =
      under === 'rep' && theirReps.size > 0 ? sql`${table.rep} = ${anyOf([...theirReps])}` : undefined;
    const rows = await db
      .select()
      .from(table as PgTable)
      .where(and(eq(table.academyId, academyId), or(saying(table as PgTable, person), ofTheirs)));
    for (const row of rows) {
      const read = readRow(list, row);
      if ('reason' in read) {
        about.odd.push({ list, row });
        continue;
      }
      const fact: Fact = read.fact;
      const rep = repNamedBy(list, fact);
      if (!people(fact).includes(person) && !(rep !== null && theirReps.has(rep))) continue;
      (about.facts[list] as Fact[]).push(fact);
      if (list === 'reps') theirReps.add(fact.id);
    }
  }
  return about;
}

/** Writes facts over those of the same id, in one statement. For renaming and erasing a person only: facts are append-only. */
async function rewriteFacts<K extends FactList>(
  tx: Db,
  academyId: Id,
  list: K,
  facts: readonly FactOf<K>[],
): Promise<void> {
  if (facts.length === 0) return;
  await rewriteRows(
    tx,
    academyId,
    list,
    facts.map((fact) => toRow(list, fact)),
  );
}

async function rewriteRows(
  tx: Db,
  academyId: Id,
  list: FactList,
  rows: readonly Record<string, unknown>[],
): Promise<void> {
  const table = factTables[list];
  const set = columnNames(list)
    .filter((name) => name !== 'id')
    .map((name) => sql`${sql.identifier(name)} = new_facts.${sql.identifier(name)}`);
  await tx.execute(sql`
    update ${table} as old_facts set ${sql.join(set, sql`, `)}
    from jsonb_populate_recordset(null::${table}, ${JSON.stringify(rows)}::jsonb) as new_facts
    where old_facts.academy_id = ${academyId} and old_facts.id = new_facts.id`);
}

/** Deletes facts. For erasing a person only. */
async function deleteFacts(tx: Db, academyId: Id, list: FactList, ids: readonly string[]): Promise<void> {
  if (ids.length === 0) return;
  const table = factTables[list];
  await tx
    .delete(table as PgTable)
    .where(and(eq(table.academyId, academyId), sql`${table.id} = ${anyOf(ids)}`));
}

/** Puts another id in the place of a person's in all facts that name them. */
export async function renameInFacts(tx: Db, academyId: Id, from: Id, to: Id): Promise<void> {
  const { facts, odd } = await factsAbout(tx, academyId, from);
  for (const list of factLists()) {
    const { people, renamed } = kindOf(list);
    const naming = (facts[list] as Fact[]).filter((fact) => people(fact).includes(from));
    await rewriteFacts(
      tx,
      academyId,
      list,
      naming.map((fact) => renamed(fact, from, to)) as FactOf<typeof list>[],
    );
    // Any field of an odd row may name a person: every value that is the id is replaced.
    const rows = odd
      .filter((one) => one.list === list)
      .map(({ row }) => byColumn(list, renamedAnywhere(row, from, to)));
    if (rows.length > 0) await rewriteRows(tx, academyId, list, rows);
  }
}

/** Erases a person from all facts about them, still under their id: what each kind leaves of a fact stays. */
export async function eraseFromFacts(tx: Db, academyId: Id, person: Id): Promise<{ reps: number }> {
  const { facts, odd } = await factsAbout(tx, academyId, person);
  for (const list of factLists()) {
    const { erased } = kindOf(list);
    const gone = odd.filter((one) => one.list === list).map(({ row }) => String(row['id']));
    const left: Fact[] = [];
    if (erased)
      for (const fact of facts[list] as Fact[]) {
        const rest = erased(fact, person);
        if (rest === null) gone.push(fact.id);
        else left.push(rest);
      }
    await rewriteFacts(tx, academyId, list, left as FactOf<typeof list>[]);
    await deleteFacts(tx, academyId, list, gone);
  }
  return { reps: facts.reps.length };
}

/** A value with another id in the place of a person's, anywhere in it: for rows that no schema reads. */
export function renamedAnywhere<T>(value: T, from: Id, to: Id): T {
  if (value === from) return to as T;
  if (Array.isArray(value)) return value.map((one: unknown) => renamedAnywhere(one, from, to)) as T;
  if (value && typeof value === 'object' && !(value instanceof Date))
    return Object.fromEntries(
      Object.entries(value).map(([key, one]) => [key, renamedAnywhere(one as unknown, from, to)]),
    ) as T;
  return value;
}
