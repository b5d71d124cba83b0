import type { CauseTag, Facts, Rep, Session, Void } from '@ulkret/core/rep';
import { type DBSchema, openDB } from 'idb';

/** What can be entered on a device. */
export type Entry = { is: 'rep'; fact: Rep } | { is: 'void'; fact: Void } | { is: 'tag'; fact: CauseTag };

interface Kept {
  academy: string;
  id: string;
  /** Waiting until the server has answered; refused with its reason. */
  state: 'waiting' | 'saved' | 'refused';
  reason?: string;
}

/** A fact as this device keeps it, under the session on whose Mat it was made and in the order in which it was made here. */
export type KeptFact = Kept & Entry & { session: string; order: number };
export type KeptSession = Kept & { session: Session };

interface Schema extends DBSchema {
  facts: {
    key: number;
    value: KeptFact;
    indexes: { byId: [string, string]; bySession: [string, string]; byState: [string, string] };
  };
  sessions: { key: [string, string]; value: KeptSession; indexes: { byState: [string, string] } };
}

const opened = openDB<Schema>('ulkret', 1, {
  upgrade(database) {
    const facts = database.createObjectStore('facts', { keyPath: 'order', autoIncrement: true });
    facts.createIndex('byId', ['academy', 'id'], { unique: true });
    facts.createIndex('bySession', ['academy', 'session']);
    facts.createIndex('byState', ['academy', 'state']);
    const sessions = database.createObjectStore('sessions', { keyPath: ['academy', 'id'] });
    sessions.createIndex('byState', ['academy', 'state']);
  },
});

/** Keeps a new entry, waiting to be sent. Throws where the device cannot. */
export async function keepFact(academy: string, session: string, entry: Entry): Promise<void> {
  const row = { ...entry, id: entry.fact.id, academy, session, state: 'waiting' };
  await (await opened).add('facts', row as KeptFact);
}

/** Keeps a session's set-up; a later one replaces it. */
export async function keepSession(kept: KeptSession): Promise<void> {
  await (await opened).put('sessions', kept);
}

export const keptSession = async (academy: string, id: string): Promise<KeptSession | null> =>
  (await (await opened).get('sessions', [academy, id])) ?? null;

/** What this device knows of a session's facts, but for the refused ones. */
export async function keptFacts(academy: string, session: string): Promise<Facts> {
  const rows = await (await opened).getAllFromIndex('facts', 'bySession', [academy, session]);
  const standing = rows.filter(({ state }) => state !== 'refused');
  return {
    reps: standing.flatMap((row) => (row.is === 'rep' ? [row.fact] : [])),
    voids: standing.flatMap((row) => (row.is === 'void' ? [row.fact] : [])),
    tags: standing.flatMap((row) => (row.is === 'tag' ? [row.fact] : [])),
  };
}

/** The entries of an academy in a state, in the order in which they were made; at most so many. */
export const factsIn = async (academy: string, state: Kept['state'], most?: number): Promise<KeptFact[]> =>
  (await opened).getAllFromIndex('facts', 'byState', [academy, state], most);

export const sessionsIn = async (academy: string, state: Kept['state']): Promise<KeptSession[]> =>
  (await opened).getAllFromIndex('sessions', 'byState', [academy, state]);

export async function countIn(
  store: 'facts' | 'sessions',
  academy: string,
  state: Kept['state'],
): Promise<number> {
  return (await opened).countFromIndex(store, 'byState', [academy, state]);
}

/** Writes what the server answered. */
export async function settleFacts(rows: readonly KeptFact[]): Promise<void> {
  const transaction = (await opened).transaction('facts', 'readwrite');
  await Promise.all([...rows.map((row) => transaction.store.put(row)), transaction.done]);
}
