import { createServer as createHttpServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { setTimeout as rest } from 'node:timers/promises';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { createServer } from '../index';
import { anAcademy, settingsOf, signInCookie } from '../test/academy';
import { freshDatabase } from '../test/database';
import { lookInThread } from './looking';

let database: Awaited<ReturnType<typeof freshDatabase>>;
beforeAll(async () => {
  database = await freshDatabase();
  await anAcademy(database.db, 'quay');
});
afterAll(() => database.drop());

test('who only looks is answered by a thread, as the server would; while there is none the server does it itself', async () => {
  let wrong: string | null = null;
  const of = { url: database.url, log: false, version: 'test', trustProxy: false, starter: [] };
  const looking = lookInThread(of, () => wrong);
  const asked = { there: 0, here: 0 };
  const app = createServer(
    database.db,
    settingsOf(database.db, {
      looks: (request, response, next) => {
        asked.there++;
        looking.hand(request, response, (error?: unknown) => {
          asked.there--;
          asked.here++;
          next(error);
        });
      },
    }),
  );
  const http = createHttpServer(app);
  await new Promise<void>((resolve) => http.listen(0, '127.0.0.1', resolve));
  const url = `http://127.0.0.1:${(http.address() as AddressInfo).port}`;
  const cookie = await signInCookie(url, 'quay');
  const get = async (path: string, headers: Record<string, string> = { cookie }) => {
    const { there } = asked;
    const response = await fetch(url + path, { headers });
    const told = { status: response.status, type: response.headers.get('content-type') };
    return { ...told, text: await response.text(), by: asked.there > there ? 'thread' : 'server' };
  };

  // Until the thread is up nobody waits for it.
  const own = await get('/api/students');
  expect(own).toMatchObject({ status: 200, by: 'server' });
  while ((await get('/api/students')).by === 'server') await rest(100);
  expect(await get('/api/students')).toEqual({ ...own, by: 'thread' });
  expect(await get('/api/kit')).toMatchObject({ status: 200, by: 'thread' });
  // Its refusals too.
  expect(await get('/api/students', {})).toMatchObject({ status: 401, by: 'thread' });
  expect(await get('/api/techniques/nothing')).toMatchObject({ status: 404, by: 'thread' });
  // A door and a file are the server's own.
  expect(await get('/api/session')).toMatchObject({ status: 200, by: 'server' });
  expect(await get('/api/export/reps.csv')).toMatchObject({ status: 200, by: 'server' });
  // Where the database is away, one server is enough to say so.
  wrong = 'The database does not answer.';
  expect(await get('/api/students')).toMatchObject({ by: 'server' });
  wrong = null;
  expect(await get('/api/students')).toMatchObject({ status: 200, by: 'thread' });

  await looking.close();
  expect(await get('/api/students')).toMatchObject({ status: 200, by: 'server' });
  http.closeAllConnections();
  http.close();
}, 60_000);
