import { connect as dial, createServer, type Socket } from 'node:net';
import { setTimeout as rest } from 'node:timers/promises';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { freshDatabase } from '../test/database';
import { connect } from './connect';
import { noAnswer, watchDatabase, watchPool } from './watch';

let database: Awaited<ReturnType<typeof freshDatabase>>;
beforeAll(async () => {
  database = await freshDatabase();
});
afterAll(() => database.drop());

/** The database through a line that can be frozen: what is sent is taken, and nothing comes back. */
async function frozenLine() {
  const behind = new URL(database.url);
  const [port, host] = [Number(behind.port), behind.hostname];
  const lines = new Set<Socket>();
  let frozen = false;
  const server = createServer((near) => {
    const far = dial(port, host);
    for (const socket of [near, far]) {
      lines.add(socket);
      socket.on('error', () => undefined);
      socket.on('close', () => [near, far].forEach((one) => one.destroy()));
    }
    near.pipe(far);
    far.on('data', (part) => !frozen && near.write(part));
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  behind.port = String((server.address() as { port: number }).port);
  return {
    url: behind.href,
    freeze: (is: boolean) => (frozen = is),
    close: () => {
      for (const one of lines) one.destroy();
      server.close();
    },
  };
}

const quick = { look: 50, answer: 1000, stuck: 600 };

test('while the database does not answer nobody hangs, and when it answers again everything goes on', async () => {
  const line = await frozenLine();
  const connected = connect(line.url, 2, 3000);
  const told: (string | null)[] = [];
  const end = watchDatabase(line.url, connected.breakOff, (wrong) => told.push(wrong), quick);
  const ask = () => connected.pool.query('select 1');
  await Promise.all([ask(), ask()]);
  line.freeze(true);
  const from = performance.now();
  const asked = await Promise.allSettled([ask(), ask(), ask(), ask()]);
  expect(asked.map(({ status }) => status)).toEqual(Array(4).fill('rejected'));
  // Nobody waited for the thirty seconds that a statement may take.
  expect(performance.now() - from).toBeLessThan(10_000);
  expect(told).toEqual([noAnswer]);
  line.freeze(false);
  while (told.length < 2) await rest(20);
  expect(told).toEqual([noAnswer, null]);
  await expect(ask()).resolves.toMatchObject({ rowCount: 1 });
  await end();
  await connected.close();
  line.close();
}, 30_000);

test('a pool that gives nothing back is given up with a reason; one that is only busy is not', async () => {
  const connected = connect(database.url, 1, 5000);
  const { pool } = connected;
  const reasons: string[] = [];
  const end = watchPool(pool, (reason) => reasons.push(reason), quick);
  // Each statement takes most of the time, and others wait: it moves.
  await Promise.all([1, 2, 3].map(() => pool.query('select pg_sleep(0.4)')));
  expect(reasons).toEqual([]);
  const lost = await pool.connect();
  const waiting = pool.query('select 1');
  while (reasons.length === 0) await rest(20);
  expect(reasons[0]).toBe('No connection came back for 0.6 seconds, and 1 wait for one.');
  await end();
  lost.release();
  await waiting;
  await connected.close();
}, 30_000);
