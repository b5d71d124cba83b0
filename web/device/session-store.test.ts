import 'fake-indexeddb/auto';
import { describe, expect, test } from '@jest/globals';
import { aRep, factId, aSession } from '../../core/test';
import type { Entry } from '@ulkret/core/facts';
import { factsInState, keepDocument, keepFact, keptFacts } from './entries';
import { SessionStore } from './session-store';

const id = factId(70);
const clock = { offsetMs: 0, heard: true };
const session = aSession({
  id,
  startedAt: '2026-03-05T18:00:00.000Z',
  pairs: [['ada', 'ben']],
});
const at = (second: number) => `2026-03-05T18:10:${String(second).padStart(2, '0')}.000Z`;
const rep = (second: number) => aRep({ session: id, at: at(second) });

let academies = 0;
function opened() {
  const academy = `academy-${++academies}`;
  const recorded: Entry[] = [];
  const outbox = {
    record: (_: string, entry: Entry) => {
      recorded.push(entry);
      return Promise.resolve();
    },
  };
  const store = new SessionStore(academy, id, outbox);
  let told = 0;
  store.subscribe(() => told++);
  return { academy, store, recorded, told: () => told };
}
const repsOf = (store: SessionStore) => store.standing().all();

describe('a session on this device', () => {
  test('shows an entry in the moment in which it is made, and hands it on to be kept and sent', () => {
    const { store, recorded, told } = opened();
    const entry = { is: 'reps' as const, fact: rep(1) };
    store.add(entry);
    expect(repsOf(store)).toEqual([entry.fact]);
    expect(recorded).toEqual([entry]);
    expect(told()).toBe(1);
  });

  test('is the union of what the device has, what the server knows, and what others send', async () => {
    const { academy, store } = opened();
    const [kept, both, server, live] = [rep(1), rep(2), rep(3), rep(4)];
    for (const fact of [kept, both]) await keepFact(academy, id, { is: 'reps', fact }, clock);
    await keepDocument({ is: 'session', body: session, id, academy, state: 'waiting', clock });
    expect(store.session()).toBeUndefined();
    await store.read();
    expect(store.session()).toMatchObject({ body: session, state: 'waiting' });
    store.take({ reps: [server, both] });
    store.take({ reps: [live] });
    expect(repsOf(store)).toEqual([kept, both, server, live]);
  });

  test('has what others sent when it is opened next, without a network, and once where it is its own', async () => {
    const { academy, store } = opened();
    const [own, theirs] = [rep(1), rep(2)];
    const undone = { id: factId(71), rep: theirs.id, at: at(3), observer: 'coach', ofImport: false };
    await keepFact(academy, id, { is: 'reps', fact: own }, clock);
    await store.read();
    store.hear({ reps: [own, theirs] });
    expect(repsOf(store)).toEqual([own, theirs]);
    store.hear({ voids: [undone] });
    const kept = async () => (await keptFacts(academy, id)).voids.length;
    for (let tries = 0; tries < 100 && (await kept()) === 0; tries++) await new Promise(setImmediate);
    expect(await keptFacts(academy, id)).toMatchObject({ reps: [own, theirs], voids: [undone] });
    expect((await factsInState(academy, 'waiting')).map((row) => row.id)).toEqual([own.id]);
  });

  test('tells nobody of what it knew already, and stays the same object', () => {
    const { store, told } = opened();
    store.take({ reps: [rep(1)] });
    const [before, first] = [store.standing(), told()];
    store.take({ reps: [...before.all()] });
    expect(store.standing()).toBe(before);
    expect(told()).toBe(first);
  });

  test('keeps on the screen what is tapped during a re-read', async () => {
    const { academy, store } = opened();
    const [kept, tapped] = [rep(1), rep(2)];
    await keepFact(academy, id, { is: 'reps', fact: kept }, clock);
    await store.read();
    const reading = store.read();
    store.add({ is: 'reps', fact: tapped });
    await reading;
    expect(repsOf(store)).toEqual([kept, tapped]);
  });

  test('is read again when the instants of waiting entries were corrected', async () => {
    const { academy, store } = opened();
    const fact = rep(1);
    await keepFact(academy, id, { is: 'reps', fact }, clock);
    await store.read();
    const other = opened();
    await keepFact(other.academy, id, { is: 'reps', fact: { ...fact, at: at(59) } }, clock);
    await other.store.read();
    expect(repsOf(store)[0]!.at).toBe(at(1));
    expect(repsOf(other.store)[0]!.at).toBe(at(59));
    expect(other.store.session()).toBeNull();
  });

  test('still shows what the page and the server know where the device cannot be read', async () => {
    const { store } = opened();
    store.add({ is: 'reps', fact: rep(1) });
    const { transaction } = IDBDatabase.prototype;
    IDBDatabase.prototype.transaction = () => {
      throw new DOMException('the disk is full', 'UnknownError');
    };
    try {
      await store.read();
    } finally {
      IDBDatabase.prototype.transaction = transaction;
    }
    expect(store.session()).toBeNull();
    expect(repsOf(store)).toHaveLength(1);
  });
});
