import { endpoints, type Kit } from '@ulkret/contract';
import type { Entry, FactList } from '@ulkret/core/facts';
import type { Student } from '@ulkret/core/people';
import { onlySeen } from '@ulkret/core/rep';
import type { Session } from '@ulkret/core/session';
import { type DBSchema, type IDBPDatabase, type IDBPTransaction, openDB } from 'idb';

export interface StoredItem {
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
export type KeptFact = StoredItem & Entry & { session: string; order: number };
/** A session's set-up, or somebody new on the roster, made here. */
export type KeptDocument = StoredItem & ({ is: 'session'; body: Session } | { is: 'student'; body: Student });

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
const renamed: Readonly<Record<string, FactList>> = { rep: 'reps', void: 'voids', tag: 'tags' };

type Upgrading = IDBPTransaction<Schema, ('facts' | 'documents' | 'answers')[], 'versionchange'>;

/** Sessions had a list of their own in the first version, and facts other names. */
async function withoutSessions(transaction: Upgrading): Promise<void> {
  const sessions = transaction as unknown as {
    objectStore(name: string): { getAll(): Promise<(StoredItem & { session: Session })[]> };
  };
  for (const { session, ...kept } of await sessions.objectStore('sessions').getAll())
    await transaction.objectStore('documents').put({ ...kept, is: 'session', body: session });
  const facts = transaction.objectStore('facts');
  for (const fact of await facts.getAll()) await facts.put({ ...fact, is: renamed[fact.is]! } as KeptFact);
}

/**
 * Reps that an older app has noted and not yet sent say more than they may today: a partner at the rung where one drills alone,
 * and variants of checkpoints that they did not get to. What was never sent may still change.
 */
async function bringUpToDate(transaction: Upgrading): Promise<void> {
  const answers = await transaction.objectStore('answers').getAll();
  const kits = answers.filter(({ address }) => address === endpoints.kit.path);
  const facts = transaction.objectStore('facts');
  for (const row of await facts.getAll()) {
    if (row.is !== 'reps' || row.state !== 'waiting' || row.tried) continue;
    const { technique, edition } = row.fact;
    const breakdown = kits
      .flatMap(({ body }) => (body as Partial<Kit>).techniques ?? [])
      .find((one) => one.breakdown.technique === technique && one.breakdown.edition === edition)?.breakdown;
    const seen = breakdown ? onlySeen(breakdown, row.fact) : row.fact;
    await facts.put({ ...row, fact: seen.rung === 0 ? { ...seen, partner: null } : seen });
  }
}

const open = (): Promise<IDBPDatabase<Schema>> =>
  openDB<Schema>('ulkret', 3, {
    async upgrade(database, before, _, transaction) {
      if (before < 1) {
        const facts = database.createObjectStore('facts', { keyPath: 'order', autoIncrement: true });
        facts.createIndex('byId', ['academy', 'id'], { unique: true });
        facts.createIndex('bySession', ['academy', 'session']);
        facts.createIndex('byState', ['academy', 'state']);
      }
      if (before < 2) {
        const documents = database.createObjectStore('documents', { keyPath: ['academy', 'id'] });
        documents.createIndex('byState', ['academy', 'state']);
        database.createObjectStore('answers', { keyPath: ['academy', 'address'] });
      }
      if (before === 1) await withoutSessions(transaction);
      if (before > 0) await bringUpToDate(transaction);
    },
    terminated() {
      opened = null;
    },
  });

let opened: Promise<IDBPDatabase<Schema>> | null = null;
/** The store, opened again where the browser took it away: a full disk can end a connection. */
export const store = (): Promise<IDBPDatabase<Schema>> => {
  opened ??= open().catch((error: unknown) => {
    opened = null;
    throw error;
  });
  return opened;
};

export async function keepAnswer(academy: string, address: string, body: unknown): Promise<void> {
  await (await store()).put('answers', { academy, address, at: Date.now(), body });
}

export const keptAnswer = async (academy: string, address: string): Promise<KeptAnswer | null> =>
  (await (await store()).get('answers', [academy, address])) ?? null;

/** Forgets what the server answered, to everybody: after a sign-out nobody's data stays. What waits to be sent does. */
export async function forgetAnswers(): Promise<void> {
  await (await store()).clear('answers');
}
