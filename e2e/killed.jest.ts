import type { ChildProcess } from 'node:child_process';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { newStudent } from '@ulkret/core/people';
import { password } from '@ulkret/server/test/academy';
import { freshDatabase } from '@ulkret/server/test/database';
import { freePort } from '../scripts/postgres';
import { ended, started } from '../scripts/started';

let database: Awaited<ReturnType<typeof freshDatabase>>;
let port: number;
let server: ChildProcess;
let cookie = '';
const begin = async () => {
  server = await started(['--port', String(port), '--empty'], { DATABASE_URL: database.owner });
};
/** The power is cut: nothing is ended, and nobody hears of it. */
const cut = () => ended(server, 'SIGKILL');
const address = (path: string) => `http://127.0.0.1:${port}${path}`;
async function ask<T = unknown>(method: string, path: string, body?: object): Promise<T> {
  const response = await fetch(address(path), {
    method,
    headers: { 'content-type': 'application/json', cookie },
    ...(body && { body: JSON.stringify(body) }),
  });
  cookie ||= response.headers.get('set-cookie')?.split(';')[0] ?? '';
  const told = (await response.json()) as T;
  if (!response.ok) throw new Error(JSON.stringify(told));
  return told;
}
const counted = async (): Promise<number> =>
  Number((await database.pool.query('select count(*) as n from reps')).rows[0].n);
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

beforeAll(async () => {
  database = await freshDatabase();
  port = await freePort();
  await begin();
  const zone = 'UTC';
  const first = { academy: 'Quay', name: 'Ife', email: 'ife@quay.example', password, starter: true, zone };
  await ask('POST', '/api/coaches/first', first);
  await ask('PUT', '/api/students/ada', newStudent({ id: 'ada', name: 'Ada' }));
}, 120_000);
afterAll(async () => {
  await cut();
  await database.drop();
}, 60_000);

test('a file of reps that is cut off by the power is read again, and each of its rows is there once', async () => {
  const rows = Array.from(
    { length: 30_000 },
    (_, i) =>
      `2026-03-0${1 + (i % 9)} 18:${String(i % 60).padStart(2, '0')},Rear strangle,Ada,right,2,finished,row ${i}`,
  );
  const file = ['at,technique,student,side,rung,outcome,note', ...rows].join('\n');
  const read = async () => {
    const response = await fetch(address('/api/import/reps?zone=UTC&look=no'), {
      method: 'POST',
      headers: { 'content-type': 'text/csv', cookie },
      body: file,
    });
    return (await response.json()) as { accepted: string[]; known: number; refusedRows: number };
  };
  const broken = read().catch(() => 'the line broke');
  while ((await counted()) < 1000) await pause(20);
  await cut();
  expect(await broken).toBe('the line broke');
  const before = await counted();
  expect(before).toBeLessThan(rows.length);
  await begin();
  const told = await read();
  expect([told.known, told.accepted.length, told.refusedRows]).toEqual([before, rows.length - before, 0]);
  expect(await counted()).toBe(rows.length);
  // What is read from them is counted from all of them.
  const { students } = await ask<{ students: { student: string; reps: number }[] }>(
    'GET',
    '/api/rates?technique=rear-strangle&weeks=0&method=plain',
  );
  expect(students.find(({ student }) => student === 'ada')!.reps).toBe(rows.length);
}, 180_000);

test('an edition that is cut off while it is published is published or still a draft: never both, and never half', async () => {
  interface Whole {
    editions: { edition: number; source: string }[];
  }
  const at = '/api/techniques/rear-strangle';
  for (const [i, ms] of [0, 4, 9, 16, 30].entries()) {
    const source = `seen again ${i}`;
    const { editions } = await ask<Whole>('GET', at);
    const { edition } = editions.at(-1)!;
    const { revision } = await ask<{ revision: number }>('PUT', `${at}/draft`, {
      revision: 0,
      edition,
      edits: [{ path: ['draft', 'source'], value: source }],
    });
    const publish = () => ask('POST', `${at}/publish`, { revision });
    const broken = publish().catch(() => null);
    await pause(ms);
    await cut();
    await broken;
    await begin();
    const now = (await ask<Whole>('GET', at)).editions;
    const { draft } = await ask<{ draft: { draft: { source: string } } | null }>('GET', `${at}/draft`);
    if (now.at(-1)!.edition === edition) {
      expect(draft!.draft.source).toBe(source);
      await publish();
    } else {
      expect(draft).toBeNull();
      expect(now.at(-1)).toMatchObject({ edition: edition + 1, source });
    }
    const after = (await ask<Whole>('GET', at)).editions;
    expect(after.map((one) => one.edition)).toEqual(Array.from({ length: edition + 1 }, (_, n) => n + 1));
    expect(after.at(-1)!.source).toBe(source);
  }
}, 180_000);
