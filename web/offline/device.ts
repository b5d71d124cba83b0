import type { FactKind, FactOf } from '@ulkret/contract';
import type { Student } from '@ulkret/core/people';
import type { Session, SessionFacts } from '@ulkret/core/session';
import { type DBSchema, type IDBPDatabase, openDB } from 'idb';

/** What can be entered on a device, by the name of its list in a batch. */
export type Entry = { [K in FactKind]: { is: K; fact: FactOf<K> } }[FactKind];

interface Kept {
  academy: string;
  id: string;
  /** Waiting until the server has answered; refused with its reason. */
  state: 'waiting' | 'saved' | 'refused';
  reason?: string;
  /**
   * What was added to the device's clock when this was made, in milliseconds, and whether the server had been heard since
   * the page was opened. Where it had not, the instants of what waits are put right before it is first sent.
   */
  clock?: { offsetMs: number; heard: boolean };
  /** It has been on its way to the server at least once: from then on it never changes. */
  tried?: boolean;
}

/** A fact as this device keeps it, under the session on whose Mat it was made and in the order in which it was made here. */
export type KeptFact = Kept & Entry & { session: string; order: number };
/** A session's set-up, or somebody new on the roster, made here. */
export type KeptDocument = Kept & ({ is: 'session'; body: Session } | { is: 'student'; body: Student });

/** What the server answered to a question, for when it cannot be asked. */
export interface KeptAnswer {
  academy: string;
  address: string;
  at: number;
  body: unknown;
}

interface Schema extends DBSchema {
  facts: {
    key: number;
    value: KeptFact;
    indexes: { byId: [string, string]; bySession: [string, string]; byState: [string, string] };
  };
  documents: { key: [string, string]; value: KeptDocument; indexes: { byState: [string, string] } };
  answers: { key: [string, string]; value: KeptAnswer };
}

/** Lists of the first version of this store that have other names now. */
const renamed: Readonly<Record<string, FactKind>> = { rep: 'reps', void: 'voids', tag: 'tags' };

const open = (): Promise<IDBPDatabase<Schema>> =>
  openDB<Schema>('ulkret', 2, {
    async upgrade(database, before, _, transaction) {
      if (before < 1) {
        const facts = database.createObjectStore('facts', { keyPath: 'order', autoIncrement: true });
        facts.createIndex('byId', ['academy', 'id'], { unique: true });
        facts.createIndex('bySession', ['academy', 'session']);
        facts.createIndex('byState', ['academy', 'state']);
      }
      const documents = database.createObjectStore('documents', { keyPath: ['academy', 'id'] });
      documents.createIndex('byState', ['academy', 'state']);
      database.createObjectStore('answers', { keyPath: ['academy', 'address'] });
      if (before !== 1) return;
      const sessions = transaction as unknown as {
        objectStore(name: string): { getAll(): Promise<(Kept & { session: Session })[]> };
      };
      for (const { session, ...kept } of await sessions.objectStore('sessions').getAll())
        await documents.put({ ...kept, is: 'session', body: session });
      const facts = transaction.objectStore('facts');
      for (const fact of await facts.getAll())
        await facts.put({ ...fact, is: renamed[fact.is]! } as KeptFact);
    },
    terminated() {
      opened = null;
    },
  });

let opened: Promise<IDBPDatabase<Schema>> | null = null;
/** The store, opened again where the browser took it away: a full disk can end a connection. */
const store = (): Promise<IDBPDatabase<Schema>> => {
  opened ??= open().catch((error: unknown) => {
    opened = null;
    throw error;
  });
  return opened;
};

/** Keeps a new entry, waiting to be sent; one that is here already stays as it is. Throws where the device cannot. */
export async function keepFact(
  academy: string,
  session: string,
  entry: Entry,
  clock: Kept['clock'],
): Promise<void> {
  const row = { ...entry, id: entry.fact.id, academy, session, state: 'waiting', clock };
  const transaction = (await store()).transaction('facts', 'readwrite', { durability: 'strict' });
  try {
    await Promise.all([transaction.store.add(row as KeptFact), transaction.done]);
  } catch (error) {
    if ((error as { name?: string }).name !== 'ConstraintError') throw error;
  }
}

/** Keeps a session's set-up or a person; a later one of the same id replaces it. */
export async function keepDocument(kept: KeptDocument): Promise<void> {
  await (await store()).put('documents', kept);
}

export async function keptSession(academy: string, id: string): Promise<(Kept & { body: Session }) | null> {
  const kept = await (await store()).get('documents', [academy, id]);
  return kept?.is === 'session' ? kept : null;
}

/** The facts in rows, by kind. */
export function factsIn(rows: readonly Entry[]): { [K in FactKind]: FactOf<K>[] } {
  const of = <K extends FactKind>(kind: K) =>
    rows.flatMap((row) => (row.is === kind ? [row.fact as FactOf<K>] : []));
  return {
    reps: of('reps'),
    voids: of('voids'),
    tags: of('tags'),
    looks: of('looks'),
    notes: of('notes'),
    overrides: of('overrides'),
    changes: of('changes'),
  };
}

/** What this device knows of a session's facts, but for the refused ones. */
export async function keptFacts(academy: string, session: string): Promise<SessionFacts> {
  const rows = await (await store()).getAllFromIndex('facts', 'bySession', [academy, session]);
  return factsIn(rows.filter(({ state }) => state !== 'refused'));
}

/** The entries of an academy in a state, in the order in which they were made; at most so many. */
export const factsInState = async (
  academy: string,
  state: Kept['state'],
  most?: number,
): Promise<KeptFact[]> => (await store()).getAllFromIndex('facts', 'byState', [academy, state], most);

export const documentsInState = async (academy: string, state: Kept['state']): Promise<KeptDocument[]> =>
  (await store()).getAllFromIndex('documents', 'byState', [academy, state]);

export async function countIn(
  name: 'facts' | 'documents',
  academy: string,
  state: Kept['state'],
): Promise<number> {
  return (await store()).countFromIndex(name, 'byState', [academy, state]);
}

/** How many of these entries the store has. */
export async function inStore(academy: string, ids: readonly string[]): Promise<number> {
  const database = await store();
  const keys = await Promise.all(ids.map((id) => database.getKeyFromIndex('facts', 'byId', [academy, id])));
  return keys.filter((key) => key !== undefined).length;
}

/** Writes rows that changed: what the server answered, or what was mended. */
export async function putFacts(rows: readonly KeptFact[]): Promise<void> {
  const transaction = (await store()).transaction('facts', 'readwrite');
  await Promise.all([...rows.map((row) => transaction.store.put(row)), transaction.done]);
}

/** A waiting entry that the coach takes out of the queue for good. */
export async function dropFact(order: number): Promise<void> {
  await (await store()).delete('facts', order);
}

export async function keepAnswer(academy: string, address: string, body: unknown): Promise<void> {
  await (await store()).put('answers', { academy, address, at: Date.now(), body });
}

export const keptAnswer = async (academy: string, address: string): Promise<KeptAnswer | null> =>
  (await (await store()).get('answers', [academy, address])) ?? null;

/** Forgets what the server answered, to everybody: after a sign-out nobody's data stays. What waits to be sent does. */
export async function forgetAnswers(): Promise<void> {
  await (await store()).clear('answers');
}
