import { eq, sql } from 'drizzle-orm';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { anAcademy } from '../test/academy';
import { freshDatabase } from '../test/database';
import { connect, type Connected } from './connect';
import { academies, students } from './schema';
import { ofAll, within } from './within';

let database: Awaited<ReturnType<typeof freshDatabase>>;
/** One connection, so that everybody gets that of somebody else. */
let one: Connected;
beforeAll(async () => {
  database = await freshDatabase();
  await anAcademy(database.db, 'quay');
  await anAcademy(database.db, 'pier');
  one = connect(database.url, 1);
});
afterAll(async () => {
  await one.close();
  await database.drop();
});

const seen = async (db = one.db) =>
  (await db.select({ id: academies.academyId }).from(academies)).map(({ id }) => id);

test('every table that names an academy has the wall, and the server cannot see past it', async () => {
  const { rows } = await one.db.execute<{ name: string; walled: boolean; own: boolean }>(sql`
    select c.relname as name, c.relowner = current_user::regrole as own, c.relrowsecurity and exists (
      select from pg_policies p where p.tablename = c.relname and p.policyname = 'within_academy') as walled
    from pg_class c join pg_attribute a on a.attrelid = c.oid and a.attname = 'academy_id'
    where c.relnamespace = 'public'::regnamespace and c.relkind = 'r'`);
  expect(rows.length).toBeGreaterThan(20);
  expect(rows.filter(({ walled, own }) => !walled || own)).toEqual([]);
  const { rows: who } = await one.db.execute(
    sql`select rolsuper, rolbypassrls, rolcreaterole, rolcreatedb from pg_roles where rolname = current_user`,
  );
  expect(who).toEqual([{ rolsuper: false, rolbypassrls: false, rolcreaterole: false, rolcreatedb: false }]);
});

test('within an academy a query that forgets to ask for it sees and writes no other, however connections go round', async () => {
  const all = ['pier', 'quay'];
  const turns = await Promise.all([
    within('quay', () => seen()),
    seen(),
    within('pier', () => seen()),
    within('pier', () => one.db.transaction((tx) => seen(tx))),
    within('quay', () => one.db.transaction((tx) => seen(tx))),
    seen(),
  ]);
  expect(turns.map((ids) => ids.sort())).toEqual([['quay'], all, ['pier'], ['pier'], ['quay'], all]);
  await within('quay', () => one.db.update(students).set({ name: 'Nobody' }));
  const named = await one.db
    .select({ of: students.academyId })
    .from(students)
    .where(eq(students.name, 'Nobody'));
  expect(new Set(named.map(({ of }) => of))).toEqual(new Set(['quay']));
  await expect(
    within('quay', () => one.db.insert(academies).values({ academyId: 'jetty', name: 'Jetty', zone: 'UTC' })),
  ).rejects.toMatchObject({ cause: { code: '42501' } });
});

test('a transaction may ask about all, and is within its own again', async () => {
  const told = await within('quay', () =>
    one.db.transaction(async (tx) => [await ofAll(tx, () => seen(tx)), await seen(tx)]),
  );
  expect(told.map((ids) => ids.length)).toEqual([2, 1]);
  expect(await within('quay', () => seen())).toEqual(['quay']);
});
