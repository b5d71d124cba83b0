import { type Id, same } from '@ulkret/core/breakdown';
import { type FactList, type FactOf, type RepFacts, standing } from '@ulkret/core/facts';
import type { ItemAnswer } from '@ulkret/contract';
import { sql, type SQL } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { factsById, factsNaming } from '../facts/read';
import { columnNames, toRow } from '../facts/rows';
import { factTables } from '../facts/tables';

export type Settled = Omit<ItemAnswer, 'id' | 'is'>;

/** One item of a batch on its way in: either readable or refused already. */
export interface IncomingItem<K extends FactList> {
  id: string;
  fact: FactOf<K> | null;
  settled: Settled | null;
}

export const refused = (reason: string): Settled => ({ answer: 'refused', reason });

/**
 * Adds facts that are not there yet, in one statement, and answers with the ids that were new. One parameter holds
 * all rows, so that a batch of thousands costs one plan and one round trip. They go in by their ids, so that two devices
 * that send the same ones in another order do not wait for each other.
 */
export async function addFacts<K extends FactList>(
  db: Db,
  academyId: Id,
  list: K,
  facts: readonly FactOf<K>[],
  sentBy: Id | null,
): Promise<Set<string>> {
  if (facts.length === 0) return new Set();
  const table = factTables[list];
  const columns = columnNames(list).map((name) => sql.identifier(name));
  const joined = (parts: SQL[]) => sql.join(parts, sql`, `);
  const byId = [...facts].sort((a, b) => (a.id < b.id ? -1 : Number(a.id > b.id)));
  const rows = JSON.stringify(byId.map((fact) => toRow(list, fact)));
  const { rows: added } = await db.execute<{ id: string }>(sql`
    insert into ${table} (academy_id, sent_by, ${joined(columns.map((column) => sql`${column}`))})
    select ${academyId}, ${sentBy}::text, ${joined(columns.map((column) => sql`new_facts.${column}`))}
    from jsonb_populate_recordset(null::${table}, ${rows}::jsonb) as new_facts
    on conflict do nothing
    returning id`);
  return new Set(added.map(({ id }) => id));
}

/** Every form in which the facts of these ids may rightly come again. */
async function formsOf<K extends FactList>(
  db: Db,
  academyId: Id,
  list: K,
  ids: string[],
): Promise<FactOf<K>[]> {
  const stored = await factsById(db, academyId, list, ids);
  if (list !== 'reps' || stored.length === 0) return stored;
  // An exported file carries the cause that a later tag gave: it is still the same rep.
  const facts: RepFacts = {
    reps: await factsById(db, academyId, 'reps', ids),
    voids: [],
    tags: await factsNaming(db, academyId, 'tags', ids),
  };
  return [...stored, ...(standing(facts) as FactOf<K>[])];
}

/** Adds new facts, and tells new from known from contradicted. An id belongs to the first fact that came with it. */
export async function settle<K extends FactList>(
  db: Db,
  academyId: Id,
  list: K,
  items: readonly IncomingItem<K>[],
  sentBy: Id | null,
): Promise<FactOf<K>[]> {
  const open = items.filter(
    (item): item is IncomingItem<K> & { fact: FactOf<K> } => item.fact !== null && item.settled === null,
  );
  if (open.length === 0) return [];
  const added = await addFacts(
    db,
    academyId,
    list,
    open.map(({ fact }) => fact),
    sentBy,
  );
  const first = new Map<string, FactOf<K>>();
  for (const { id, fact } of open) if (added.has(id) && !first.has(id)) first.set(id, fact);
  const others = open.filter(({ id, fact }) => first.get(id) !== fact);
  const stored = new Map<string, FactOf<K>[]>();
  for (const fact of await formsOf(db, academyId, list, [...new Set(others.map(({ id }) => id))]))
    stored.set(fact.id, [...(stored.get(fact.id) ?? []), fact]);
  for (const item of open) {
    if (first.get(item.id) === item.fact) item.settled = { answer: 'accepted' };
    else
      item.settled = stored.get(item.id)?.some((fact) => same(fact, item.fact))
        ? { answer: 'known' }
        : refused(
            'another fact already has this id, and facts are never edited: undo that one and send a new one',
          );
  }
  return [...first.values()];
}
