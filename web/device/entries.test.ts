import 'fake-indexeddb/auto';
import { beforeAll, describe, expect, test } from '@jest/globals';
import { openDB } from 'idb';
import { aRep, factId } from '../../core/test';
import { forgetAnswers, keepAnswer, keptAnswer } from '../api/store';
import { countIn, dropFact, factsInState, keepFact, keptFacts, keptSession } from './entries';

const [academy, session] = ['harbour', factId(50)];
const clock = { offsetMs: 0, heard: true };
const old = aRep({ session, stop: 'c2' });
/** An older app gave the one who drills alone a partner. */
const oldAlone = { ...aRep({ session, stop: 'c2' }), rung: 0 as const };
const oldVoid = { id: factId(60), rep: old.id, at: '2026-03-05T18:31:00Z', observer: 'coach' };
const oldSession = { id: session, technique: 'test-lock' };

// A device that was last used when this store was younger, with entries that still wait.
beforeAll(async () => {
  const database = await openDB('ulkret', 1, {
    upgrade(fresh) {
      const facts = fresh.createObjectStore('facts', { keyPath: 'order', autoIncrement: true });
      facts.createIndex('byId', ['academy', 'id'], { unique: true });
      facts.createIndex('bySession', ['academy', 'session']);
      facts.createIndex('byState', ['academy', 'state']);
      fresh.createObjectStore('sessions', { keyPath: ['academy', 'id'] });
    },
  });
  const kept = { academy, state: 'waiting' };
  await database.add('facts', { ...kept, id: old.id, session, is: 'rep', fact: old });
  await database.add('facts', { ...kept, id: oldAlone.id, session, is: 'rep', fact: oldAlone });
  await database.add('facts', { ...kept, id: oldVoid.id, session, is: 'void', fact: oldVoid });
  await database.add('sessions', { ...kept, id: session, session: oldSession });
  database.close();
});

describe('what a device keeps', () => {
  test('outlives a newer form of its store: what waited waits, under its new name', async () => {
    expect(await keptFacts(academy, session)).toMatchObject({
      reps: [old, { ...oldAlone, partner: null }],
      voids: [oldVoid],
    });
    expect((await keptSession(academy, session))?.body).toEqual(oldSession);
    expect((await factsInState(academy, 'waiting')).map(({ is }) => is)).toEqual(['reps', 'reps', 'voids']);
  });

  test('is kept once, as it was first entered, in the order of entry', async () => {
    const one = aRep({ session, stop: 'c1' });
    const two = aRep({ session, at: '2026-03-05T18:00:00Z' });
    for (const fact of [one, two]) await keepFact(academy, session, { is: 'reps', fact }, clock);
    await keepFact(academy, session, { is: 'reps', fact: { ...one, note: 'changed' } }, clock);
    const waiting = await factsInState(academy, 'waiting');
    expect(waiting.slice(-2).map(({ fact }) => fact)).toEqual([one, two]);
    expect(await countIn('facts', academy, 'waiting')).toBe(5);
    expect(await factsInState(academy, 'waiting', 1)).toHaveLength(1);
    await dropFact(waiting[0]!.order);
    expect(await countIn('facts', academy, 'waiting')).toBe(4);
  });

  test('is of one academy, also where another uses the same device', async () => {
    await keepFact('hill', session, { is: 'reps', fact: aRep({ session }) }, clock);
    expect(await countIn('facts', 'hill', 'waiting')).toBe(1);
    expect((await keptFacts('hill', session)).reps).toHaveLength(1);
    expect(await keptSession('hill', session)).toBeNull();
  });

  test('of the server’s answers is the latest, until somebody signs out; what waits stays', async () => {
    await keepAnswer(academy, '/api/kit', { n: 1 });
    await keepAnswer(academy, '/api/kit', { n: 2 });
    expect((await keptAnswer(academy, '/api/kit'))?.body).toEqual({ n: 2 });
    expect(await keptAnswer('hill', '/api/kit')).toBeNull();
    const waiting = await countIn('facts', academy, 'waiting');
    await forgetAnswers();
    expect(await keptAnswer(academy, '/api/kit')).toBeNull();
    expect(await countIn('facts', academy, 'waiting')).toBe(waiting);
  });
});
