import { once } from 'node:events';
import { createServer as createHttpServer, get, type IncomingMessage, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { setTimeout as rest } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { type Role, roles } from '@ulkret/contract';
import type { Express } from 'express';
import supertest from 'supertest';
import { listenForFacts, type Live } from '../live/live';
import { createServer } from '..';
import { anAcademy, settingsOf, signedIn } from '../test/academy';
import { freshDatabase } from '../test/database';

const password = 'heron lantern sixty-one';
const next = 'brine lantern orchard nine';
let database: Awaited<ReturnType<typeof freshDatabase>>;
let live: Live;
let app: Express;
let http: Server;
let head: Awaited<ReturnType<typeof signedIn>>;

beforeAll(async () => {
  database = await freshDatabase();
  await anAcademy(database.db, 'harbour');
  live = listenForFacts(database.url, database.db);
  app = createServer(database.db, settingsOf(database.db, { live }));
  http = createHttpServer(app).listen(0, '127.0.0.1');
  await once(http, 'listening');
  head = await signedIn(app, 'harbour');
});
afterAll(async () => {
  http.closeAllConnections();
  http.close();
  await live.close();
  await database.drop();
});

let came = 0;

/** Somebody who came in by a link, with every door that their role has: two devices, a stream, an invitation, a card link. */
async function everyDoorOf(role: Role) {
  const email = `door-${++came}@harbour.example`;
  const student = role === 'student' ? 'ada' : null;
  const { secret } = (await head.post('/api/invitations').send({ role, name: 'Door', student }).expect(200))
    .body as { secret: string };
  const cookieOf = (headers: Record<string, unknown>) => String(headers['set-cookie']).split(';')[0]!;
  const joined = await supertest(app)
    .post('/api/invitations/accept')
    .send({ secret, name: 'Door', email, password })
    .expect(200);
  const { id } = (joined.body as { coach: { id: string } }).coach;
  const cookie = cookieOf(joined.headers);
  const other = cookieOf(
    (await supertest(app).post('/api/session').send({ email, password }).expect(200)).headers,
  );
  const as = (given: string) => ({
    get: (path: string) => supertest(app).get(path).set('Cookie', given),
    post: (path: string) => supertest(app).post(path).set('Cookie', given),
  });
  const made = await as(cookie).post('/api/invitations').send({ role: 'head', name: 'Mine' });
  const card = await as(cookie).post('/api/students/ada/cards').send({ days: 7 });
  // A student and an operator hear no stream.
  const stream = await new Promise<IncomingMessage>((resolve, reject) => {
    const { port } = http.address() as AddressInfo;
    get({ port, path: '/api/live', headers: { cookie } }, resolve).on('error', reject);
  });
  let streaming = stream.statusCode === 200;
  stream.on('close', () => (streaming = false)).resume();
  return {
    id,
    email,
    cookie,
    /** What is still open of all this. */
    open: async () => {
      const secretOf = (body: unknown) => (body as { secret?: string }).secret ?? 'none';
      const link = await supertest(app)
        .post('/api/invitations/open')
        .send({ secret: secretOf(made.body) });
      const seen = await supertest(app)
        .post('/api/cards')
        .send({ secret: secretOf(card.body) });
      return {
        here: (await as(cookie).get('/api/devices')).status === 200,
        there: (await as(other).get('/api/devices')).status === 200,
        streaming,
        invitation: link.status === 200,
        card: seen.status === 200,
      };
    },
  };
}

/** The streams end a moment after the answer: a notification is heard when the transaction is in. */
async function settled(one: Awaited<ReturnType<typeof everyDoorOf>>) {
  for (let i = 0; i < 40 && (await one.open()).streaming; i++) await rest(25);
  return one.open();
}
const shut = { here: false, there: false, streaming: false, invitation: false, card: false };

describe('every door is closed at once', () => {
  test.each(roles.map((role) => [role]))('of somebody who is shut out: %s', async (role) => {
    const one = await everyDoorOf(role);
    const before = await one.open();
    expect(before).toMatchObject({ here: true, there: true, invitation: role === 'head' });
    expect(before.card).toBe(role === 'coach' || role === 'head');
    expect(before.streaming).toBe(['assistant', 'coach', 'head'].includes(role));
    await head.put(`/api/access/${one.id}`).send({ role, open: false }).expect(200);
    expect(await settled(one)).toEqual(shut);
    await supertest(app).post('/api/session').send({ email: one.email, password }).expect(401);
  });

  test('of somebody who is demoted, and none of somebody who is promoted', async () => {
    const down = await everyDoorOf('head');
    await head.put(`/api/access/${down.id}`).send({ role: 'assistant', open: true }).expect(200);
    expect(await settled(down)).toEqual(shut);
    const up = await everyDoorOf('coach');
    await head.put(`/api/access/${up.id}`).send({ role: 'head', open: true }).expect(200);
    expect(await up.open()).toMatchObject({ here: true, there: true, streaming: true, card: true });
  });

  test('but the one that asks, with a new password', async () => {
    const one = await everyDoorOf('head');
    const changed = await supertest(app)
      .post('/api/password')
      .set('Cookie', one.cookie)
      .send({ old: password, password: next })
      .expect(200);
    expect(changed.headers['set-cookie']).toBeDefined();
    expect(await settled(one)).toEqual(shut);
    await supertest(app).post('/api/session').send({ email: one.email, password: next }).expect(200);
  });
});

describe('a way back', () => {
  const accept = (secret: string, fields: object = {}) =>
    supertest(app)
      .post('/api/invitations/accept')
      .send({ secret, name: 'Anybody', email: 'anybody@harbour.example', password: next, ...fields });

  test('is under one’s own name, email and role, used once, and closes what was open before', async () => {
    const one = await everyDoorOf('coach');
    await head.put(`/api/access/${one.id}`).send({ role: 'coach', open: false }).expect(200);
    const { body } = await head
      .post('/api/invitations')
      .send({ role: 'head', name: 'not this', coach: one.id })
      .expect(200);
    expect(body).toMatchObject({ role: 'coach', name: 'Door', coach: one.id });
    const { secret } = body as { secret: string };
    const opened = await supertest(app).post('/api/invitations/open').send({ secret }).expect(200);
    expect(opened.body).toMatchObject({ name: 'Door', email: one.email });
    const back = await accept(secret).expect(200);
    expect(back.body).toMatchObject({ coach: { id: one.id, name: 'Door', role: 'coach' } });
    await accept(secret).expect(404);
    expect(await settled(one)).toEqual(shut);
    await supertest(app).post('/api/session').send({ email: one.email, password: next }).expect(200);
    await head.post('/api/invitations').send({ role: 'coach', name: 'x', coach: 'c-nobody' }).expect(404);
  });

  test('is not for a person who types the email of somebody who is here by name only', async () => {
    await database.pool.query(
      `insert into coaches (academy_id, id, name, email, password_hash, role, closed_at)
       values ('harbour', 'c-old', 'Old', 'old@harbour.example', '', 'coach', now())`,
    );
    const { secret } = (await head.post('/api/invitations').send({ role: 'assistant', name: 'New' }))
      .body as {
      secret: string;
    };
    await accept(secret, { email: 'old@harbour.example' }).expect(409);
    expect((await accept(secret).expect(200)).body).toMatchObject({ coach: { role: 'assistant' } });
  });
});

test('somebody who is being shut out makes no new doors', async () => {
  const one = await everyDoorOf('head');
  const client = await database.pool.connect();
  try {
    // The head is being closed, and that is not through yet, when they ask for an invitation.
    await client.query('begin');
    await client.query('update coaches set closed_at = now() where id = $1', [one.id]);
    const asked = supertest(app)
      .post('/api/invitations')
      .set('Cookie', one.cookie)
      .send({ role: 'head', name: 'Mine again' })
      .then(({ status }) => status);
    await rest(100);
    await client.query('commit');
    expect(await asked).toBe(401);
  } finally {
    client.release();
  }
});
