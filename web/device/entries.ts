import {
  type Entry,
  factLists,
  factsIn,
  type FactsByList,
  type RepFacts,
  type SomeFacts,
} from '@ulkret/core/facts';
import type { Step } from '@ulkret/core/prescription';
import { Session } from '@ulkret/core/session';
import { clock } from '../api/clock';
import { type StoredItem, type KeptDocument, type KeptFact, store } from '../api/store';

/** Keeps a new entry, waiting to be sent; one that is here already stays as it is. Throws where the device cannot. */
export async function keepFact(
  academy: string,
  session: string,
  entry: Entry,
  clock: StoredItem['clock'],
): Promise<void> {
  const row = { ...entry, id: entry.fact.id, academy, session, state: 'waiting', clock };
  const transaction = (await store()).transaction('facts', 'readwrite', { durability: 'strict' });
  try {
    await Promise.all([transaction.store.add(row as KeptFact), transaction.done]);
  } catch (error) {
    if ((error as { name?: string }).name !== 'ConstraintError') throw error;
  }
}

/** Keeps what others have entered and the server has: a start without a network shows it as well. What is here already stays. */
export async function keepHeard(academy: string, session: string, facts: SomeFacts): Promise<void> {
  const transaction = (await store()).transaction('facts', 'readwrite');
  const entries = factLists().flatMap((is) => (facts[is] ?? []).map((fact) => ({ is, fact }) as Entry));
  await Promise.all([
    ...entries.map(async (entry) => {
      const { id } = entry.fact;
      if ((await transaction.store.index('byId').getKey([academy, id])) === undefined)
        await transaction.store.add({ ...entry, id, academy, session, state: 'saved' } as KeptFact);
    }),
    transaction.done,
  ]);
}

/** Keeps a session's set-up or a person; a later one of the same id replaces it. */
export async function keepDocument(kept: KeptDocument): Promise<void> {
  await (await store()).put('documents', kept);
}

export async function keptSession(
  academy: string,
  id: string,
): Promise<(StoredItem & { body: Session }) | null> {
  const kept = await (await store()).get('documents', [academy, id]);
  // What a session of an older app does not say is filled in.
  return kept?.is === 'session' ? { ...kept, body: Session.safeParse(kept.body).data ?? kept.body } : null;
}

/** What this device knows of a session's facts, but for the refused ones. */
export async function keptFacts(academy: string, session: string): Promise<FactsByList> {
  const rows = await (await store()).getAllFromIndex('facts', 'bySession', [academy, session]);
  return factsIn(rows.filter(({ state }) => state !== 'refused'));
}

/** Decisions about corrections that this device has made and not yet told the server. */
export const waitingSteps = async (academy: string): Promise<Step[]> =>
  factsIn(await factsInState(academy, 'waiting')).steps;

/** The entries of an academy in a state, in the order in which they were made, up to a limit. */
export const factsInState = async (
  academy: string,
  state: StoredItem['state'],
  most?: number,
): Promise<KeptFact[]> => (await store()).getAllFromIndex('facts', 'byState', [academy, state], most);

/** The waiting entries of one coach, in the order in which they were made, up to a limit. */
export async function waitingOf(academy: string, observer: string, most: number): Promise<KeptFact[]> {
  const first = await factsInState(academy, 'waiting', most);
  // Nearly always one coach has one device.
  if (first.every(({ fact }) => fact.observer === observer)) return first;
  const rows: KeptFact[] = [];
  const index = (await store()).transaction('facts').store.index('byState');
  for await (const { value } of index.iterate([academy, 'waiting'])) {
    if (value.fact.observer === observer) rows.push(value);
    if (rows.length === most) break;
  }
  return rows;
}

export const documentsInState = async (
  academy: string,
  state: StoredItem['state'],
): Promise<KeptDocument[]> => (await store()).getAllFromIndex('documents', 'byState', [academy, state]);

export async function countIn(
  name: 'facts' | 'documents',
  academy: string,
  state: StoredItem['state'],
): Promise<number> {
  return (await store()).countFromIndex(name, 'byState', [academy, state]);
}

/** How many of these entries the store has. */
export async function inStore(academy: string, ids: readonly string[]): Promise<number> {
  const database = await store();
  const keys = await Promise.all(ids.map((id) => database.getKeyFromIndex('facts', 'byId', [academy, id])));
  return keys.filter((key) => key !== undefined).length;
}

/** Writes rows that changed: what the server answered, or what was fixed. */
export async function putFacts(rows: readonly KeptFact[]): Promise<void> {
  const transaction = (await store()).transaction('facts', 'readwrite');
  await Promise.all([...rows.map((row) => transaction.store.put(row)), transaction.done]);
}

/** Deletes everything that the server has: signing out leaves only unsent entries behind. */
export async function forgetSaved(): Promise<void> {
  const transaction = (await store()).transaction(['facts', 'documents'], 'readwrite');
  for (const name of ['facts', 'documents'] as const) {
    const rows = transaction.objectStore(name);
    for await (const cursor of rows.iterate()) if (cursor.value.state === 'saved') await cursor.delete();
  }
  await transaction.done;
}

/** A waiting entry that the coach takes out of the queue for good. */
export async function dropFact(order: number): Promise<void> {
  await (await store()).delete('facts', order);
}

/** How far back the facts of one day can be, whatever the time zone. */
const aDayMs = 36 * 3_600_000;
/** Other devices' facts are stored in order of arrival, so an older one may follow a newer one. */
const mostOlder = 50;

/** The latest reps and voids of all sessions but one that this device has: read from the end, so that the cost is of the day alone. */
export async function keptRepsOfOthers(academy: string, session: string | null): Promise<RepFacts> {
  const since = new Date(clock.now() - aDayMs).toISOString();
  const rows: KeptFact[] = [];
  for (const state of ['waiting', 'saved'] as const) {
    let older = 0;
    const index = (await store()).transaction('facts').store.index('byState');
    for await (const { value } of index.iterate([academy, state], 'prev')) {
      if (value.fact.at < since) older++;
      else if (value.session !== session) rows.push(value);
      if (older > mostOlder) break;
    }
  }
  const { reps, voids } = factsIn(rows);
  return { reps, voids, tags: [] };
}
