import { createServer as createHttpServer, request, type Server } from 'node:http';
import { type AddressInfo, connect as connectTo } from 'node:net';
import { setTimeout as rest } from 'node:timers/promises';
import { gzipSync } from 'node:zlib';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { Express } from 'express';
import { interimStatus } from '@ulkret/contract';
import { noFacts } from '@ulkret/core/facts';
import { aRep } from '../core/test';
import { connect } from './db/connect';
import { Busy } from './refused';
import type { Live } from './live/live';
import { questions, type Readings } from './readings/read';
import { Desk } from './threads/desk';
import { anAcademy, settingsOf, signedIn, signInCookie } from './test/academy';
import { freshDatabase } from './test/database';
import { createServer } from '.';

/** What is asked for beyond what can be done: it is told so, nobody else waits for it, and nothing is left behind. */

let database: Awaited<ReturnType<typeof freshDatabase>>;
beforeAll(async () => {
  database = await freshDatabase();
  await anAcademy(database.db, 'hill');
});
afterAll(() => database.drop());

describe('a database that is held up', () => {
  test('by a lock: a waiting caller is asked to retry, health answers, and all is well afterwards', async () => {
    // The wait for one of the three connections is shorter than a lock lasts, and longer than a slow machine takes to
    // open one.
    const { db, pool, close } = connect(database.url, 3, 3000);
    const app: Express = createServer(db, settingsOf(db));
    const hill = await signedIn(app, 'hill');
    const holder = await database.pool.connect();
    try {
      await pool.query('select 1');
      await holder.query('begin');
      await holder.query('lock table students in access exclusive mode');
      const held = Array.from({ length: 6 }, () => hill.get('/api/students'));
      const answers = await Promise.all(held);
      expect(new Set(answers.map(({ status }) => status))).toEqual(new Set([503]));
      for (const { body, headers } of answers) {
        expect((body as { error: string }).error).toMatch(/busy/);
        expect(Number(headers['retry-after'])).toBeGreaterThan(0);
      }
      await hill.get('/api/health').expect(200);
    } finally {
      await holder.query('rollback');
      holder.release();
    }
    await hill.get('/api/students').expect(200);
    await close();
  }, 30_000);
});

describe('more readings than can be made in time', () => {
  test('are answered with when to ask again', async () => {
    const busy = () => Promise.reject(new Busy('Too many readings at once.'));
    const app = createServer(
      database.db,
      settingsOf(database.db, {
        readings: Object.fromEntries(questions.map((one) => [one, busy])) as unknown as Readings,
      }),
    );
    const hill = await signedIn(app, 'hill');
    const { body, headers } = await hill.get('/api/readings?technique=test-lock').expect(503);
    expect(body).toEqual({ error: expect.any(String), todo: expect.stringContaining('few seconds') });
    expect(headers['retry-after']).toBe('3');
  });
});

describe('the desk where readings are asked for', () => {
  test('answers this many at once, shares waiting questions but not running ones, and turns the rest away', async () => {
    const desk = new Desk(2, 3, 60_000, 'Too many readings at once.');
    const open: (() => void)[] = [];
    const begun: string[] = [];
    const ask = (question: string) =>
      desk.ask(question, async () => {
        begun.push(question);
        await new Promise<void>((resolve) => open.push(resolve));
        return `${question} ${begun.length}`;
      });
    const first = [ask('a'), ask('b')];
    await rest(1);
    const waiting = [ask('a'), ask('c'), ask('a'), ask('c'), ask('d')];
    await expect(ask('e')).rejects.toBeInstanceOf(Busy);
    expect(begun).toEqual(['a', 'b']);
    const answered = Promise.all([...first, ...waiting]);
    for (let i = 0; i < 5; i++, await rest(1)) open.shift()?.();
    const told = await answered;
    expect(begun).toEqual(['a', 'b', 'a', 'c', 'd']);
    expect(told[2]).toBe(told[4]);
    expect(told[3]).toBe(told[5]);
    const after = ask('e');
    await rest(1);
    open.shift()?.();
    expect(await after).toMatch(/^e/);
  });

  test('whose turn comes when nobody waits for them any more are not answered', async () => {
    let now = 0;
    const desk = new Desk(1, 3, 1000, 'Too many readings at once.', () => now);
    let begun = 0;
    const ask = (question: string, takesMs: number) =>
      desk.ask(question, () => {
        begun++;
        now += takesMs;
        return Promise.resolve(question);
      });
    const slow = ask('slow', 1500);
    const late = [ask('late', 0), ask('later', 0)].map((one) => expect(one).rejects.toBeInstanceOf(Busy));
    expect(await slow).toBe('slow');
    await Promise.all(late);
    expect(begun).toBe(1);
    expect(await ask('in time', 0)).toBe('in time');
  });
});

describe('streams', () => {
  let listener: Parameters<Live['subscribe']>[1] = () => undefined;
  let listening = 0;
  const live: Live = {
    subscribe: (_, heard) => {
      listener = heard;
      listening++;
      return () => void listening--;
    },
    close: () => Promise.resolve(),
  };
  let http: Server;
  beforeAll(async () => {
    http = createHttpServer(createServer(database.db, settingsOf(database.db, { live })));
    await new Promise<void>((resolve) => http.listen(0, '127.0.0.1', resolve));
  });
  afterAll(() => {
    http.closeAllConnections();
    http.close();
  });
  const port = () => (http.address() as AddressInfo).port;
  const until = async (what: () => boolean) => {
    for (let i = 0; i < 200 && !what(); i++) await rest(20);
    expect(what()).toBe(true);
  };

  test('of one who reads nothing do not grow: it is sent away', async () => {
    const cookie = await signInCookie(`http://127.0.0.1:${port()}`, 'hill');
    const socket = connectTo(port(), '127.0.0.1');
    socket.write(`GET /api/live HTTP/1.1\r\nHost: x\r\nCookie: ${cookie}\r\n\r\n`);
    socket.pause();
    socket.on('error', () => undefined);
    await until(() => listening === 1);
    const reps = Array.from({ length: 500 }, () => aRep({ note: 'x'.repeat(300) }));
    const facts = { ...noFacts(), reps };
    let told = 0;
    for (; told < 400 && listening === 1; told++) {
      listener({ session: reps[0]!.id, facts });
      await rest(1);
    }
    expect(told).toBeLessThan(400);
    await until(() => listening === 0);
    socket.destroy();
  }, 30_000);

  test('of one device are limited in number; closed ones make room', async () => {
    const url = `http://127.0.0.1:${port()}`;
    const cookie = await signInCookie(url, 'hill');
    const stop = new AbortController();
    const follow = () => fetch(`${url}/api/live`, { headers: { cookie }, signal: stop.signal });
    const statuses = [];
    for (let i = 0; i < 30; i++) statuses.push((await follow()).status);
    expect(statuses.filter((status) => status === 200)).toHaveLength(24);
    expect(statuses.filter((status) => status === 503)).toHaveLength(6);
    stop.abort();
    await until(() => listening === 0);
    const again = new AbortController();
    expect((await fetch(`${url}/api/live`, { headers: { cookie }, signal: again.signal })).status).toBe(200);
    again.abort();
  }, 30_000);
});

describe('a file of many rows', () => {
  const header = 'at,technique,student,partner,side,rung,outcome,stop,note';
  const row = (i: number) =>
    `2026-03-05T${String(8 + (i % 12)).padStart(2, '0')}:00:00Z,Test lock,Ada,Ben,right,2,stopped,c2,row ${i}`;
  const rows = 4000;
  const file = [header, ...Array.from({ length: rows }, (_, i) => row(i)), 'never,,,,,,,,'].join('\n');
  let http: Server;
  let hill: Awaited<ReturnType<typeof signedIn>>;
  beforeAll(async () => {
    const app = createServer(database.db, settingsOf(database.db));
    http = createHttpServer(app);
    await new Promise<void>((resolve) => http.listen(0, '127.0.0.1', resolve));
    hill = await signedIn(app, 'hill');
  });
  afterAll(() => void http.close());
  const stored = async () =>
    Number(
      (await database.pool.query<{ n: string }>("select count(*) as n from reps where academy_id = 'hill'"))
        .rows[0]!.n,
    );

  test('is read as it comes, and others are answered in between; broken off, it goes on where it was', async () => {
    const { port } = http.address() as AddressInfo;
    const cookie = await signInCookie(`http://127.0.0.1:${port}`, 'hill');
    const before = await stored();
    const sending = request({
      port,
      method: 'POST',
      path: '/api/import/reps',
      headers: { cookie, 'content-type': 'text/csv', prefer: interimStatus },
    });
    sending.on('error', () => undefined);
    sending.write(file);
    // Its end has not been sent, and what has come is in already.
    for (let i = 0; i < 400 && (await stored()) === before; i++) await rest(20);
    expect(await stored()).toBeGreaterThan(before);
    await hill
      .post('/api/reps')
      .send({ reps: [aRep({ at: '2026-03-06T18:00:00.000Z' })] })
      .expect(200);
    sending.destroy();
    // What was on its way when it broke off is in once the line is closed and the database has nothing more to do.
    const open = () => new Promise<number>((resolve) => http.getConnections((_, count) => resolve(count)));
    const { pool } = database;
    while ((await open()) > 0 || pool.idleCount < pool.totalCount) await rest(20);
    const kept = await stored();
    const taken = kept - before - 1;
    expect(taken).toBeLessThan(rows);

    const send = async (query = '') =>
      (await hill.post(`/api/import/reps${query}`).type('text/csv').send(file).expect(200)).body as {
        accepted: string[];
        known: number;
        refusedRows: number;
      };
    const look = await send('?look=yes');
    expect([look.accepted.length, look.known, look.refusedRows]).toEqual([rows - taken, taken, 1]);
    expect(await stored()).toBe(kept);
    expect(await send()).toEqual(look);
    expect(await send()).toMatchObject({ accepted: [], known: rows, refusedRows: 1 });
  }, 60_000);

  test('may be packed, and is refused as what it is where it is no file', async () => {
    const send = (body: Buffer | string, headers: Record<string, string>) =>
      hill.post('/api/import/reps').set(headers).send(body);
    const packed = await send(gzipSync(file), { 'content-type': 'text/csv', 'content-encoding': 'gzip' });
    expect(packed.body).toMatchObject({ accepted: [], known: rows });
    await send('{}', { 'content-type': 'application/json' }).expect(415);
    await send('x', { 'content-type': 'text/csv', 'content-encoding': 'compress' }).expect(415);
    const broken = { 'content-type': 'text/csv', 'content-encoding': 'gzip' };
    const { body } = await send(gzipSync(file).subarray(0, 500), broken).expect(400);
    expect((body as { error: string }).error).toMatch(/broke off/);
  });
});
