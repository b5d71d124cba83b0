import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { neutralRules, type RuleSet } from '@ulkret/core/care';
import { createServer } from '..';
import { listenForFacts } from '../live/live';
import { anAcademy, settingsOf, signedIn } from '../test/academy';
import { freshDatabase } from '../test/database';

let database: Awaited<ReturnType<typeof freshDatabase>>;
let live: ReturnType<typeof listenForFacts>;
let hill: Awaited<ReturnType<typeof signedIn>>;
const stricter: RuleSet = {
  ...neutralRules,
  id: 'ours',
  name: 'Ours',
  caps: { ...neutralRules.caps, neck: 3 },
};

beforeAll(async () => {
  database = await freshDatabase();
  await anAcademy(database.db, 'hill');
  await anAcademy(database.db, 'harbour');
  live = listenForFacts(database.url, database.db);
  hill = await signedIn(createServer(database.db, settingsOf(database.db)), 'hill');
});
afterAll(async () => {
  await live.close();
  await database.drop();
});

test('the house begins with the rules that ship, and what it sets holds for the kit, with who changed what', async () => {
  const first = (await hill.get('/api/rules').expect(200)).body;
  expect(first).toMatchObject({ revision: 0, rules: { id: 'neutral' }, history: [] });
  const told = new Promise<string>((resolve) => {
    live.subscribe('hill', (facts) => resolve(facts === null ? 'ask again' : 'facts'));
    live.subscribe('harbour', () => resolve('told to another academy'));
  });
  const { body } = await hill.put('/api/rules').send({ rules: stricter, revision: 0 }).expect(200);
  expect(body.history).toMatchObject([
    {
      revision: 1,
      by: 'Coach',
      changes: ['finishes on a neck in a class: 12 to 3', 'the name: Neutral rules to Ours'],
    },
  ]);
  expect((await hill.get('/api/kit')).body.rules).toEqual(stricter);
  // A coach on the Mat hears of it.
  expect(await told).toBe('ask again');
});

test('two who change them meet, and what is no rule set is refused', async () => {
  const { revision } = (await hill.get('/api/rules')).body;
  await hill
    .put('/api/rules')
    .send({ rules: neutralRules, revision: revision - 1 })
    .expect(409);
  const both = await Promise.all(
    [1, 2].map(() => hill.put('/api/rules').send({ rules: neutralRules, revision })),
  );
  expect(both.map(({ status }) => status).sort()).toEqual([200, 409]);
  const wrong = { ...neutralRules, caps: { ...neutralRules.caps, neck: 0 } };
  await hill
    .put('/api/rules')
    .send({ rules: wrong, revision: revision + 1 })
    .expect(400);
});
