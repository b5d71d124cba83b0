import type { Id } from '@ulkret/core/breakdown';
import type { FactKind, FactOf } from '@ulkret/contract';
import { sql } from 'drizzle-orm';
import type { Db } from '../db/connect';

/** The channel on which every server process hears of facts that any of them has taken. */
export const factsChannel = 'ulkret_facts';

/** Which facts are new, of one session of one academy: ids by kind. Small enough for one notification. */
export interface News {
  academy: Id;
  session: string;
  facts: Partial<Record<FactKind, string[]>>;
}

/** Ids of 36 letters: this many stay under the 8,000 bytes that a notification may have. */
const perNotification = 150;

/** Tells all server processes of facts, once the transaction that added them is committed and not before. */
export async function tellOfFacts(
  tx: Db,
  academy: Id,
  facts: { [K in FactKind]: readonly FactOf<K>[] },
  sessionOfRep: (rep: string) => string | null,
): Promise<void> {
  const sessions = new Map<string, [FactKind, string][]>();
  for (const [kind, list] of Object.entries(facts) as [FactKind, readonly FactOf<FactKind>[]][])
    for (const fact of list) {
      const session =
        'session' in fact ? fact.session : 'rep' in fact && kind !== 'looks' ? sessionOfRep(fact.rep) : null;
      if (session === null) continue;
      sessions.set(session, [...(sessions.get(session) ?? []), [kind, fact.id]]);
    }
  for (const [session, ids] of sessions)
    for (let i = 0; i < ids.length; i += perNotification) {
      const news: News = { academy, session, facts: {} };
      for (const [kind, id] of ids.slice(i, i + perNotification)) (news.facts[kind] ??= []).push(id);
      await tx.execute(sql`select pg_notify(${factsChannel}, ${JSON.stringify(news)})`);
    }
}
