import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { aRep, factId } from '../../core/test';
import { anAcademy } from '../test/academy';
import { freshDatabase } from '../test/database';
import type { Db } from '../db/connect';
import { factsOf } from '../facts/read';
import { takeTogether } from './together';

let database: Awaited<ReturnType<typeof freshDatabase>>;
beforeAll(async () => {
  database = await freshDatabase();
});
afterAll(() => database.drop());

const sender = { id: 'coach', decides: true, forOthers: false };

/** The database, telling of each transaction that is begun; `broken` ones never begin. */
function watched(broken: () => boolean = () => false) {
  const seen = { transactions: 0 };
  const db = new Proxy(database.db, {
    get(target, key) {
      if (key !== 'transaction') return Reflect.get(target, key) as unknown;
      return (...given: Parameters<Db['transaction']>) => {
        seen.transactions++;
        return broken() ? Promise.reject(new Error('away')) : target.transaction(...given);
      };
    },
  });
  return { db, seen };
}

const told = (answers: readonly { answer: string }[]) => answers.map(({ answer }) => answer);

describe('batches of one sender that come at the same moment', () => {
  test('go in two transactions, and each is answered for its own, in its own order', async () => {
    await anAcademy(database.db, 'at-once');
    const { db, seen } = watched();
    const take = takeTogether(db);
    const twice = aRep();
    const batches = Array.from({ length: 40 }, (_, i) => {
      const rep = aRep({ stop: 'c2' });
      const tag = { id: factId(80_000 + i), rep: rep.id, cause: null, words: 'late', at: rep.at };
      return {
        reps: i % 3 === 0 ? [rep, { ...rep, id: `no-${i}` }] : [twice, rep],
        tags: [{ ...tag, observer: 'coach' }],
      };
    });
    const answers = await Promise.all(batches.map((batch) => take('at-once', batch, sender)));
    for (const [i, { reps, tags }] of batches.entries())
      expect(answers[i]!.map(({ id, is }) => [is, id])).toEqual([
        ...reps.map(({ id }) => ['rep', id]),
        ['tag', tags[0]!.id],
      ]);
    expect(told(answers[0]!)).toEqual(['accepted', 'refused', 'accepted']);
    expect(told(answers[1]!)).toEqual(['accepted', 'accepted', 'accepted']);
    expect(told(answers[2]!)).toEqual(['known', 'accepted', 'accepted']);
    expect(seen.transactions).toBe(2);
    const stored = await factsOf(database.db, 'at-once', {});
    expect([stored.reps.length, stored.tags.length]).toEqual([41, 40]);
  });

  test('never go with those of another sender or another academy', async () => {
    await anAcademy(database.db, 'one-lane');
    await anAcademy(database.db, 'other-lane');
    const take = takeTogether(database.db);
    const rep = aRep();
    const [own, of, there] = await Promise.all([
      take('one-lane', { reps: [rep] }, sender),
      take('one-lane', { reps: [aRep()] }, { ...sender, id: 'somebody-else' }),
      take('other-lane', { reps: [rep] }, sender),
    ]);
    expect([own, of, there].map((answers) => told(answers!))).toEqual([
      ['accepted'],
      ['refused'],
      ['accepted'],
    ]);
  });

  test('cost nobody anything where the store cannot hold what one of them says', async () => {
    await anAcademy(database.db, 'one-is-odd');
    const take = takeTogether(database.db);
    const batches = Array.from({ length: 5 }, (_, i) => ({
      reps: [aRep(), aRep({ note: i === 3 ? 'a \0 no store holds' : 'fine' })],
    }));
    const answers = await Promise.all(batches.map((batch) => take('one-is-odd', batch, sender)));
    const fine = ['accepted', 'accepted'];
    expect(answers.map(told)).toEqual([fine, fine, fine, ['accepted', 'refused'], fine]);
  });

  test('are all told that the store is away, and later ones are taken', async () => {
    await anAcademy(database.db, 'away');
    let away = true;
    const take = takeTogether(watched(() => away).db);
    const send = () => take('away', { reps: [aRep()] }, sender);
    const settled = await Promise.allSettled([send(), send(), send()]);
    expect(settled.map(({ status }) => status)).toEqual(['rejected', 'rejected', 'rejected']);
    away = false;
    expect(told(await send())).toEqual(['accepted']);
  });

  test('go by the thousand at most, and a heap goes on its own', async () => {
    await anAcademy(database.db, 'heap');
    const { db, seen } = watched();
    const take = takeTogether(db);
    const send = async (sizes: readonly number[]) => {
      const batches = sizes.map((n) => ({ reps: Array.from({ length: n }, () => aRep()) }));
      const answers = await Promise.all(batches.map((batch) => take('heap', batch, sender)));
      expect(answers.map(({ length }) => length)).toEqual(sizes);
      expect(answers.flat().every(({ answer }) => answer === 'accepted')).toBe(true);
    };
    // The heap, the first of the others, and those that came since.
    await send([1200, 1, 1, 1, 1]);
    expect(seen.transactions).toBe(3);
    // The first at once, then two, two and one.
    await send([400, 400, 400, 400, 400, 400]);
    expect(seen.transactions).toBe(7);
  });
});
