import { spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { expect, test } from '@jest/globals';
import { freshDatabase } from '@ulkret/server/test/database';
import { takeLock } from '../scripts/data-folder';
import { freePort, startCluster } from '../scripts/postgres';
import { ended, started } from '../scripts/started';
import pg from 'pg';

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

test('a server that died is started again, and a stop ends all of it', async () => {
  const database = await freshDatabase();
  const port = await freePort();
  const kept = await started(['--port', String(port), '--empty'], { DATABASE_URL: database.owner });
  const [server] = readFileSync(`/proc/${kept.pid}/task/${kept.pid}/children`, 'utf8').trim().split(' ');
  const isUp = () =>
    fetch(`http://127.0.0.1:${port}/api/health`)
      .then(({ ok }) => ok)
      .catch(() => false);
  expect(await isUp()).toBe(true);
  process.kill(Number(server), 'SIGKILL');
  while (await isUp()) await pause(50);
  while (!(await isUp())) await pause(100);
  const from = performance.now();
  await ended(kept);
  expect(performance.now() - from).toBeLessThan(10_000);
  expect(await isUp()).toBe(false);
  await database.drop();
}, 90_000);

test('what a power cut left names another cluster and another process by now: only our own is touched', async () => {
  // PostgreSQL runs as another user than root, who must get in.
  const folders = [1, 2].map(() => path.join(os.tmpdir(), `ulkret-${randomUUID()}`));
  const [other, own] = await Promise.all(folders.map((folder) => startCluster(folder)));
  try {
    own!.stop();
    const pidFile = (folder: string) => path.join(folder, 'postgres', 'postmaster.pid');
    writeFileSync(pidFile(folders[1]!), readFileSync(pidFile(folders[0]!)));
    const again = await startCluster(folders[1]!);
    expect(again.ran).toBe(false);
    again.stop();
    const client = new pg.Client({ connectionString: other!.url('postgres') });
    await client.connect();
    await expect(client.query('select 1')).resolves.toMatchObject({ rowCount: 1 });
    await client.end();
  } finally {
    other!.stop();
  }
  // The lock names a process that is there, but not the one that took it.
  const stranger = spawn(process.execPath, ['-e', 'setTimeout(() => {}, 60000)', 'run.mjs', 'start']);
  const locked = path.join(folders[0]!, 'lock');
  mkdirSync(locked);
  writeFileSync(path.join(locked, 'ulkret.pid'), `${stranger.pid} another-start`);
  expect(takeLock(locked)).toBeInstanceOf(Function);
  await ended(stranger, 'SIGKILL');
  for (const folder of folders) rmSync(folder, { recursive: true, force: true });
}, 90_000);
