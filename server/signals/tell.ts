import type { Id } from '@ulkret/core/breakdown';
import { type FactList, factLists, type FactsByList, sessionOf } from '@ulkret/core/facts';
import type { Rep } from '@ulkret/core/rep';
import { sql } from 'drizzle-orm';
import type { Db } from '../db/connect';

/** The channel on which every server process hears of facts that any of them has taken. */
export const factsChannel = 'ulkret_facts';

/** Which facts are new, of one session of one academy: ids by kind. Small enough for one notification. */
export interface News {
  academy: Id;
  session: string;
  facts: Partial<Record<FactList, string[]>>;
}

/** That something other than a fact has changed: every device of an academy asks for everything again. */
export interface AskAgain {
  academy: Id;
  everything: true;
}

/** That doors of somebody were closed: their live streams end at once, on whichever server process. */
export interface ClosedDoors {
  academy: Id;
  closed: Id;
}

/** Ends somebody's live streams, once the transaction is committed. */
export async function tellOfClosedDoors(tx: Db, academy: Id, coach: Id): Promise<void> {
  const news: ClosedDoors = { academy, closed: coach };
  await tx.execute(sql`select pg_notify(${factsChannel}, ${JSON.stringify(news)})`);
}

/** Tells all devices of an academy to ask again, once the transaction is committed. */
export async function tellOfAll(tx: Db, academy: Id): Promise<void> {
  const news: AskAgain = { academy, everything: true };
  await tx.execute(sql`select pg_notify(${factsChannel}, ${JSON.stringify(news)})`);
}

/** Ids of 36 letters: this many stay under the 8,000 bytes that a notification may have. */
const perNotification = 150;

/** Tells all server processes of facts, once the transaction that added them is committed and not before. */
export async function tellOfFacts(
  tx: Db,
  academy: Id,
  facts: FactsByList,
  repOf: ReadonlyMap<string, Rep>,
): Promise<void> {
  const sessions = new Map<string, [FactList, string][]>();
  for (const list of factLists())
    for (const fact of facts[list]) {
      const session = sessionOf(list, fact, repOf);
      if (session !== null) sessions.set(session, [...(sessions.get(session) ?? []), [list, fact.id]]);
    }
  for (const [session, ids] of sessions)
    for (let i = 0; i < ids.length; i += perNotification) {
      const news: News = { academy, session, facts: {} };
      for (const [list, id] of ids.slice(i, i + perNotification)) (news.facts[list] ??= []).push(id);
      await tx.execute(sql`select pg_notify(${factsChannel}, ${JSON.stringify(news)})`);
    }
}
