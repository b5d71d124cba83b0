import type { Id } from '@ulkret/core/breakdown';
import { type FactList, factLists, type FactsByList, noFacts } from '@ulkret/core/facts';
import type { LiveFacts } from '@ulkret/contract';
import type { Logger } from 'pino';
import pg from 'pg';
import type { Db } from '../db/connect';
import { factsById, factsNaming } from '../facts/read';
import { type AskAgain, type ClosedDoors, factsChannel, type News } from '../signals/tell';

/** The listening coach, and what to do when their doors are closed: they hear nothing after that. */
interface Listening {
  coach: Id;
  onClosed(): void;
}

/** Hears what other devices sent, through whichever server process it came. */
export interface Live {
  /** Calls back with the facts of an academy as they come, and with null when some may have been missed. The answer ends it. */
  subscribe(academy: Id, listener: (facts: LiveFacts | null) => void, who?: Listening): () => void;
  close(): Promise<void>;
}

const retryMs = 1000;

/** Listens on a PostgreSQL URL, and again when the database was away; `db` is where the facts are then read from. */
export function listenForFacts(url: string, db: Db, log: Logger | null = null): Live {
  type Listener = (facts: LiveFacts | null) => void;
  const listeners = new Map<Id, Map<Listener, Listening | undefined>>();
  let client: pg.Client | null = null;
  let closed = false;
  let timer: ReturnType<typeof setTimeout> | undefined;

  const tellAll = () => {
    for (const group of listeners.values()) for (const listener of group.keys()) listener(null);
  };
  const connect = async (again: boolean): Promise<void> => {
    const fresh = new pg.Client({ connectionString: url, keepAlive: true });
    const lost = () => {
      if (client !== fresh && client !== null) return;
      client = null;
      fresh.removeAllListeners();
      fresh.on('error', () => undefined);
      void fresh.end().catch(() => undefined);
      clearTimeout(timer);
      if (!closed) timer = setTimeout(() => void connect(true), retryMs);
    };
    fresh.on('error', lost);
    fresh.on('end', lost);
    fresh.on('notification', ({ payload }) => void hear(payload ?? ''));
    try {
      await fresh.connect();
      client = fresh;
      await fresh.query(`listen ${factsChannel}`);
      if (again) tellAll();
    } catch {
      lost();
    }
  };
  const hear = async (payload: string): Promise<void> => {
    try {
      const news = JSON.parse(payload) as News | AskAgain | ClosedDoors;
      const group = listeners.get(news.academy);
      if (!group || group.size === 0) return;
      if ('closed' in news) {
        for (const [listener, who] of [...group])
          if (who?.coach === news.closed) {
            group.delete(listener);
            who.onClosed();
          }
        return;
      }
      if ('everything' in news) {
        for (const listener of group.keys()) listener(null);
        return;
      }
      const facts = await factsOfNews(db, news);
      for (const listener of group.keys()) listener({ session: news.session, facts });
    } catch (error) {
      // Devices ask again on their own for whatever could not be read now.
      log?.error(error);
      tellAll();
    }
  };
  void connect(false);

  return {
    subscribe(academy, listener, who) {
      const group = listeners.get(academy) ?? new Map<Listener, Listening | undefined>();
      listeners.set(academy, group.set(listener, who));
      return () => {
        group.delete(listener);
        if (group.size === 0 && listeners.get(academy) === group) listeners.delete(academy);
      };
    },
    async close() {
      closed = true;
      clearTimeout(timer);
      await client?.end().catch(() => undefined);
    },
  };
}

/** The facts of some news, in full. */
async function factsOfNews(db: Db, { academy, facts: ids }: News): Promise<FactsByList> {
  const facts = noFacts() as Record<FactList, object[]>;
  for (const list of factLists())
    facts[list] = [
      ...(await factsById(db, academy, list, ids[list] ?? [])),
      // A fact about a rep may have arrived before it and was then sent to nobody.
      ...(await factsNaming(db, academy, list, ids.reps ?? [])),
    ];
  return facts as FactsByList;
}
