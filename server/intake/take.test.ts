import { readdirSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { Rep } from '@ulkret/core/rep';
import { type RepFacts, mergeFacts, noFacts, standing } from '@ulkret/core/facts';
import fc from 'fast-check';
import { aRep, factId } from '../../core/test';
import { anAcademy, takeAll } from '../test/academy';
import { freshDatabase } from '../test/database';
import { factsOf } from '../facts/read';
import { migrateForward } from '../db/connect';

let database: Awaited<ReturnType<typeof freshDatabase>>;
beforeAll(async () => {
  database = await freshDatabase();
});
afterAll(() => database.drop());

const at = (second: number) => new Date(Date.parse('2026-03-05T18:30:00.000Z') + second * 1000).toISOString();

/** What one evening of two coaches may leave behind: reps, some voided, some tagged, some tagged twice. */
function evening(seed: number, n: number): RepFacts {
  const id = (i: number) => factId(seed * 100_000 + i);
  const reps = Array.from({ length: n }, (_, i): Rep => {
    const stop = i % 6;
    return aRep({
      id: id(i),
      at: at(i % 40),
      student: ['ada', 'ben', 'cleo'][i % 3],
      partner: 'dan',
      ...(stop > 0 && { stop: `c${stop}` }),
    });
  });
  const stopped = reps.filter(({ outcome }) => outcome === 'stopped');
  const told = (i: number) => ({ at: at(60 + i), observer: 'coach' });
  return {
    reps,
    voids: reps
      .filter((_, i) => i % 7 === 3)
      .map((rep, i) => ({ id: id(10_000 + i), rep: rep.id, ...told(i), ofImport: false })),
    tags: [...stopped, ...stopped.slice(0, 3)].map((rep, i) => ({
      id: id(20_000 + i),
      rep: rep.id,
      ...told(i),
      words: null,
      cause: rep.outcome === 'stopped' ? `m${rep.stop.slice(1)}` : null,
    })),
  };
}

describe('facts that come in any order', () => {
  test('split over batches, shuffled, and sent more than once, end as the same set', async () => {
    let seed = 0;
    await fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 5, max: 30 }),
        fc.array(fc.nat(1000), { minLength: 60, maxLength: 60 }),
        async (n, order) => {
          const academy = `any-order-${++seed}`;
          await anAcademy(database.db, academy);
          const facts = evening(seed, n);
          const items = [
            ...facts.reps.map((fact) => ({ reps: [fact], voids: [], tags: [] })),
            ...facts.voids.map((fact) => ({ reps: [], voids: [fact], tags: [] })),
            ...facts.tags.map((fact) => ({ reps: [], voids: [], tags: [fact] })),
          ];
          const shuffled = items
            .map((item, i) => ({ item, key: order[i % order.length]! * 31 + (i % 17) }))
            .sort((a, b) => a.key - b.key)
            .map(({ item }) => item);
          const sent = [...shuffled, ...shuffled.slice(0, 9)];
          for (let i = 0; i < sent.length; i += 8) {
            const batch = sent.slice(i, i + 8).reduce<RepFacts>(mergeFacts, noFacts());
            const answers = await takeAll(database.db, academy, batch);
            expect(answers.every(({ answer }) => answer !== 'refused')).toBe(true);
          }
          const stored = await factsOf(database.db, academy, { technique: 'test-lock' });
          expect(standing(stored)).toEqual(standing(facts));
        },
      ),
      { numRuns: 12 },
    );
  });

  test('sent by five devices at the same moment are stored once each', async () => {
    await anAcademy(database.db, 'five-devices');
    const facts = evening(900, 60);
    const answers = await Promise.all([1, 2, 3, 4, 5].map(() => takeAll(database.db, 'five-devices', facts)));
    const count = (answer: string) => answers.flat().filter((one) => one.answer === answer).length;
    const all = facts.reps.length + facts.voids.length + facts.tags.length;
    expect([count('accepted'), count('known'), count('refused')]).toEqual([all, 4 * all, 0]);
  });

  test('keep every field of every kind of rep, to the millisecond', async () => {
    await anAcademy(database.db, 'every-field');
    const told = {
      at: '2026-03-05T18:30:00.123Z',
      note: 'knee felt “odd”; stopped',
      soft: ['c2'],
      from: 'c2',
      to: 'c4',
    };
    const reps = [
      aRep({ ...told, outcome: 'finished', partner: null, session: factId(5), source: 'paper' }),
      aRep({ ...told, outcome: 'stopped', stop: 'c4', cause: 'd4', rung: 0, partner: null }),
      aRep({ ...told, outcome: 'forced', failed: ['c3', 'c4'], side: 'left', rung: 4 }),
      aRep({ ...told, outcome: 'not judged', heldTo: 'c3' }),
      aRep({ ...told, outcome: 'not judged', heldTo: null, soft: [] }),
    ];
    await takeAll(database.db, 'every-field', { reps, voids: [], tags: [] });
    const stored = await factsOf(database.db, 'every-field', {});
    expect([...stored.reps].sort((a, b) => (a.id < b.id ? -1 : 1))).toEqual(reps);
  });

  test('name the instant, not the way it was written', async () => {
    await anAcademy(database.db, 'instants');
    const rep = aRep({ at: '2026-03-05T19:30:00+01:00' });
    const send = async (fact: Rep) =>
      (await takeAll(database.db, 'instants', { reps: [fact], voids: [], tags: [] }))[0]!.answer;
    expect(await send(rep)).toBe('accepted');
    expect(await send({ ...rep, at: '2026-03-05T18:30:00.000Z' })).toBe('known');
    expect(await send({ ...rep, at: '2026-03-05T18:30:01Z' })).toBe('refused');
  });
});

test('migrating forward twice at once, and once more, changes nothing', async () => {
  const again = () => migrateForward(database.owner, 'server/db/migrations');
  await Promise.all([again(), again()]);
  await again();
  const { rows } = await database.asOwner('select count(*)::int as n from drizzle.__drizzle_migrations');
  expect(rows[0]!['n']).toBe(
    readdirSync('server/db/migrations').filter((file) => file.endsWith('.sql')).length,
  );
});

test('every table’s key starts with the academy, but of what comes before one is in: who tries is of none yet', async () => {
  const { rows } = await database.pool.query<{ table: string; first: string }>(`
    select relname as "table", attname as "first"
    from pg_index join pg_class on pg_class.oid = indrelid
    join pg_attribute on attrelid = indrelid and attnum = indkey[0]
    where indisprimary and relnamespace = 'public'::regnamespace`);
  expect(rows.length).toBeGreaterThan(8);
  const others = rows.filter(({ first }) => first !== 'academy_id');
  expect(others.sort((a, b) => a.table.localeCompare(b.table))).toEqual([
    { table: 'challenges', first: 'challenge' },
    { table: 'rate_limits', first: 'key' },
  ]);
});
