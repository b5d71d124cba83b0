import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { sql } from 'drizzle-orm';
import { freshDatabase } from '../test/database';
import { connect, migrateForward, NewerDatabase } from './connect';

let database: Awaited<ReturnType<typeof freshDatabase>>;
beforeAll(async () => {
  database = await freshDatabase();
});
afterAll(() => database.drop());

test('connections that break, also at the very beginning of a transaction, are never lost to the pool', async () => {
  const { db, pool, close } = connect(database.url, 2, 2000);
  const backend = async () =>
    (await db.execute<{ pid: number }>(sql`select pg_backend_pid() as pid`)).rows[0]!.pid;
  for (let i = 0; i < 6; i++) {
    // The pool's own connection is killed while it is idle, and used before the pool has heard of it.
    const client = await pool.connect();
    const { rows } = await client.query<{ pid: number }>('select pg_backend_pid() as pid');
    client.release();
    const killed = database.pool.query('select pg_terminate_backend($1)', [rows[0]!.pid]);
    await Promise.allSettled([
      db.transaction((tx) => tx.execute(sql`select 1`)),
      db.transaction((tx) => tx.execute(sql`select pg_sleep(0.05)`)),
      killed,
    ]);
    // One that breaks in the middle.
    await expect(
      db.transaction(async (tx) => {
        const pid = (await tx.execute<{ pid: number }>(sql`select pg_backend_pid() as pid`)).rows[0]!.pid;
        await database.pool.query('select pg_terminate_backend($1)', [pid]);
        await tx.execute(sql`select 1`);
      }),
    ).rejects.toThrow();
  }
  expect(await backend()).toBeGreaterThan(0);
  await Promise.all([1, 2, 3, 4].map(() => db.transaction((tx) => tx.execute(sql`select 1`))));
  expect(pool.waitingCount).toBe(0);
  expect(pool.totalCount).toBeLessThanOrEqual(2);
  expect(pool.idleCount).toBe(pool.totalCount);
  await close();
}, 30_000);

test('a refusal in a transaction keeps its connection', async () => {
  const { db, pool, close } = connect(database.url, 1);
  const pidIn = () =>
    db.transaction(
      async (tx) => (await tx.execute<{ pid: number }>(sql`select pg_backend_pid() as pid`)).rows[0]!.pid,
    );
  const first = await pidIn();
  await expect(db.transaction(() => Promise.reject(new Error('nothing is kept')))).rejects.toThrow(
    'nothing is kept',
  );
  await expect(db.transaction((tx) => tx.execute(sql`select 1 / 0`))).rejects.toThrow();
  expect(await pidIn()).toBe(first);
  expect(pool.totalCount).toBe(1);
  await close();
});

test('a database that a newer release has used is refused, and stays as it is', async () => {
  const forward = () => migrateForward(database.owner, 'server/db/migrations');
  await forward();
  const { rows } = await database.asOwner(
    'insert into drizzle.__drizzle_migrations (hash, created_at) select $1, max(created_at) + 1 from drizzle.__drizzle_migrations returning created_at::text as last',
    ['of a release to come'],
  );
  await expect(forward()).rejects.toThrow(NewerDatabase);
  await database.asOwner('delete from drizzle.__drizzle_migrations where created_at = $1', [rows[0]!.last]);
  await forward();
});
