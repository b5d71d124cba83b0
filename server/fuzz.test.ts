import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { roles } from '@ulkret/contract';
import { settingsOf } from './test/academy';
import { freshDatabase } from './test/database';
import { fuzz } from './test/fuzz';

let database: Awaited<ReturnType<typeof freshDatabase>>;
beforeAll(async () => {
  database = await freshDatabase();
});
afterAll(() => database.drop());

/** `npm run fuzz` sends many more, with any seed. */
test('whatever is sent, the answer is one of the contract, nothing breaks, and what was accepted is there', async () => {
  const found = await fuzz(database.db, settingsOf(database.db), { seed: 20_261_127, runs: 12 });
  expect(found.faults).toEqual([]);
  expect(found).toMatchObject({ astray: 0, changed: [] });
  expect(found.sent).toBeGreaterThan(500);
  // It got through: not everything was refused at the door.
  expect(found.answers[200]).toBeGreaterThan(found.sent / 4);
  expect(found.accepted).toBeGreaterThan(0);
}, 240_000);

test('nor where each role sends it, in turn: nobody gets what is not for them', async () => {
  const own = await freshDatabase();
  const as = [...roles, null];
  const found = await fuzz(own.db, settingsOf(own.db), { seed: 20_261_128, runs: 2 * as.length, as });
  expect(found.faults).toEqual([]);
  expect(found).toMatchObject({ astray: 0, changed: [] });
  // More is refused for who asks than where a head coach does, and not all of it.
  expect(found.answers[403]).toBeGreaterThan(found.sent / 10);
  expect(found.answers[200]).toBeGreaterThan(found.sent / 10);
  await own.drop();
}, 240_000);
