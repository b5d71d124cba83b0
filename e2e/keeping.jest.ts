import { type ChildProcess, execFile, spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import { chmod, mkdtemp, readdir, rm } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { promisify } from 'node:util';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { aRep, factId } from '../core/test';
import { aStudent, password, testTechnique } from '../server/test/academy';
import { freePort } from '../scripts/postgres';
import { ended, started } from '../scripts/started';

let dir: string;
let port: number;
let server: ChildProcess | null = null;
let cookie = '';
const env = { ...process.env, DATABASE_URL: '' };
const data = (name: string) => path.join(dir, name);
const begin = async (folder: string) => {
  server = await started(['--port', String(port), '--empty', '--data', data(folder)], { DATABASE_URL: '' });
};
const end = async () => {
  if (server) await ended(server);
  server = null;
};
async function ask(method: string, address: string, body?: object): Promise<Record<string, unknown>> {
  const response = await fetch(`http://127.0.0.1:${port}${address}`, {
    method,
    headers: { 'content-type': 'application/json', cookie },
    ...(body && { body: JSON.stringify(body) }),
  });
  cookie = response.headers.get('set-cookie')?.split(';')[0] ?? cookie;
  const told = (await response.json()) as Record<string, unknown>;
  if (!response.ok) throw new Error(JSON.stringify(told));
  return told;
}
/** What a command prints, and whether it held. */
async function command(...args: string[]): Promise<{ code: number; said: string }> {
  try {
    const { stdout } = await promisify(execFile)(process.execPath, ['scripts/run.mjs', ...args], { env });
    return { code: 0, said: stdout };
  } catch (error) {
    const { code, stderr } = error as { code: number; stderr: string };
    return { code, said: stderr };
  }
}
/** Begins a command and cuts its power after a while. */
const cut = (ms: number, ...args: string[]) =>
  new Promise<void>((resolve) => {
    const child = spawn(process.execPath, ['scripts/run.mjs', ...args], {
      env,
      stdio: 'ignore',
      detached: true,
    });
    const timer = setTimeout(() => process.kill(-child.pid!, 'SIGKILL'), ms);
    child.once('close', () => {
      clearTimeout(timer);
      resolve();
    });
  });
const repsSent = (from: number, n: number, observer: string) =>
  ask('POST', '/api/reps', {
    reps: Array.from({ length: n }, (_, i) =>
      aRep({
        id: factId(from + i),
        observer,
        partner: null,
        at: new Date(Date.now() - 60_000).toISOString(),
      }),
    ),
  });
const countReps = async (): Promise<number> => {
  const response = await fetch(`http://127.0.0.1:${port}/api/export/facts.json`, { headers: { cookie } });
  return ((await response.json()) as { reps: unknown[] }).reps.length;
};

beforeAll(async () => {
  dir = await mkdtemp(path.join(os.tmpdir(), 'ulkret-keeping-'));
  // PostgreSQL is another user where root starts it.
  await chmod(dir, 0o755);
  port = await freePort();
}, 60_000);
afterAll(async () => {
  await end();
  await rm(dir, { recursive: true, force: true });
}, 60_000);

test('an academy is backed up while it runs, its power cut half way, and restored elsewhere, where it goes on', async () => {
  await begin('first');
  const email = 'keeper@quay.example';
  const told = await ask('POST', '/api/coaches/first', {
    academy: 'Quay',
    name: 'Ife',
    email,
    password,
    starter: false,
  });
  const { id } = told['coach'] as { id: string };
  await ask('PUT', '/api/students/ada', aStudent('ada'));
  await ask('POST', '/api/techniques', testTechnique);
  // A breakdown that can be published is a long way: a file brings one.
  const { plainBreakdown } = await import('../core/test');
  await ask('DELETE', '/api/techniques/test-lock/draft');
  await ask('POST', '/api/import/breakdown', {
    format: 'ulkret.breakdown/2',
    techniques: [{ technique: testTechnique, editions: [plainBreakdown(5)] }],
  });
  const answers = (await repsSent(1, 400, id))['items'] as { answer: string; reason?: string }[];
  expect(answers.find(({ answer }) => answer !== 'accepted')).toBeUndefined();

  // The power is cut while it is written: there is no backup, or a whole one.
  for (const ms of [600, 1000, 1400])
    await cut(ms, 'backup', '--to', data(`cut-${ms}`), '--data', data('first'));
  // A disk that takes no more than a few kilobytes.
  const small = await promisify(execFile)(
    'bash',
    [
      '-c',
      `ulimit -f 8; exec '${process.execPath}' scripts/run.mjs backup --to '${data('small')}' --data '${data('first')}'`,
    ],
    { env },
  ).catch((error: { code: number; stderr: string }) => error);
  expect(small).toMatchObject({ code: 1, stderr: expect.stringMatching(/No backup was made/) });
  expect(existsSync(data('small'))).toBe(false);
  const to = data('whole.backup');
  expect(await command('backup', '--to', to, '--data', data('first'))).toMatchObject({
    code: 0,
    said: expect.stringMatching(/rows of \d+ tables/),
  });
  // It still runs, and nothing of it was touched.
  expect(await countReps()).toBe(400);
  const other = await command('restore', to, '--data', data('first'));
  expect(other).toMatchObject({ code: 1, said: expect.stringMatching(/Another Ulkret .* uses/) });
  await end();
  expect(await command('restore', to, '--data', data('first'))).toMatchObject({
    code: 1,
    said: expect.stringMatching(/something in .* already/),
  });

  // Cut while it comes back: a start would find nothing half, and it is restored again.
  for (const ms of [900, 1500, 2100]) await cut(ms, 'restore', to, '--data', data('second'));
  const { code, said } = await command('restore', to, '--data', data('second'));
  // The last cut may have come too late, on a machine that is quick: then all of it is there.
  expect(
    code === 0 ? said : said.replace(/^There is something in .* already.*\n/s, 'Restored and verified'),
  ).toMatch(/^Restored and verified/);
  await begin('second');
  cookie = '';
  await ask('POST', '/api/session', { email, password });
  expect(await countReps()).toBe(400);
  await repsSent(1000, 1, id);
  expect(await countReps()).toBe(401);
  // A daily backup is made on its own, next to the data.
  const kept = async () =>
    (await readdir(path.join(data('second'), 'backups'))).filter((name) => name.endsWith('.backup'));
  for (let i = 0; i < 40 && (await kept()).length === 0; i++)
    await new Promise((resolve) => setTimeout(resolve, 250));
  expect(await kept()).toHaveLength(1);
  await end();

  for (const ms of [600, 1000, 1400])
    if (existsSync(data(`cut-${ms}`)))
      expect(await command('restore', data(`cut-${ms}`), '--data', data(`from-${ms}`))).toMatchObject({
        code: 0,
      });
  expect((await readdir(dir)).filter((name) => name.endsWith('.part'))).toEqual([]);
  const wrong = await command('restore', data('nothing'));
  expect(wrong).toMatchObject({ code: 1, said: expect.stringMatching(/There is no file/) });
}, 240_000);
