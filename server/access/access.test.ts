import { createServer as createHttpServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { networkInterfaces } from 'node:os';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { type Endpoint, endpoints, mayAsk, type Role, roles } from '@ulkret/contract';
import type { Express } from 'express';
import supertest from 'supertest';
import { aRep, factId, someTerms } from '../../core/test';
import { createServer } from '..';
import { anAcademy, aStudent, password, settingsOf, signedIn } from '../test/academy';
import { freshDatabase } from '../test/database';

type Agent = Awaited<ReturnType<typeof signedIn>>;
let database: Awaited<ReturnType<typeof freshDatabase>>;
let app: Express;
let head: Agent;
let elsewhere: Agent;
/** Somebody of each role, all of the same academy. */
const by = new Map<Role, Agent>();
const ids = new Map<Role, string>();

/** Lets somebody in as a head coach would: by a link. */
async function comesIn(role: Role, email = `some-${role}@harbour.example`): Promise<Agent> {
  const student = role === 'student' ? 'ada' : null;
  const { body } = await head.post('/api/invitations').send({ role, name: role, student }).expect(200);
  const agent = supertest.agent(app);
  await agent
    .post('/api/invitations/accept')
    .send({ secret: body.secret, name: `Some ${role}`, email, password })
    .expect(200);
  return agent;
}

beforeAll(async () => {
  database = await freshDatabase();
  await anAcademy(database.db, 'harbour');
  await anAcademy(database.db, 'hill');
  app = createServer(database.db, settingsOf(database.db));
  head = await signedIn(app, 'harbour');
  elsewhere = await signedIn(app, 'hill');
  for (const role of roles) {
    const agent = role === 'head' ? head : await comesIn(role);
    by.set(role, agent);
    ids.set(role, (await agent.get('/api/session')).body.coach.id);
  }
});
afterAll(() => database.drop());

const every = Object.entries(endpoints) as [string, Endpoint][];
const addressOf = ({ path }: Endpoint) => path.replace(/:\w+/g, factId(77));

describe('who may', () => {
  test.each(roles.map((role) => [role]))(
    '%s is let through the gate where the contract says so, and nowhere else',
    async (role) => {
      // Signing out and changing one's own password would end what is tested; the stream never ends.
      const left = new Set(['signOut', 'live', 'signIn', 'changePassword', 'signOutEverywhere']);
      for (const [name, endpoint] of every) {
        if (left.has(name)) continue;
        // What is asked is wrong on purpose: the gate comes before what is asked is read, and nothing is done.
        const { status } = await by.get(role)![endpoint.method](addressOf(endpoint)).send({ no: 'sense' });
        const may = mayAsk(role, endpoint.who);
        expect([name, role, may ? status !== 403 && status !== 401 : status]).toEqual([
          name,
          role,
          may || 403,
        ]);
      }
    },
  );

  test('nobody of another academy finds anything of this one, whatever their role', async () => {
    const rep = aRep({
      id: factId(1),
      observer: 'coach',
      at: new Date(Date.now() - 3_600_000).toISOString(),
    });
    await head
      .post('/api/reps')
      .send({ reps: [rep] })
      .expect(200);
    await head
      .put('/api/students/sal')
      .send(aStudent('sal', { name: 'Saltmarsh' }))
      .expect(200);
    for (const [name, endpoint] of every) {
      if (endpoint.method !== 'get' || name === 'live') continue;
      const { text = '' } = await elsewhere.get(addressOf(endpoint).replace(factId(77), 'sal'));
      expect([name, text.includes('Saltmarsh')]).toEqual([name, false]);
    }
    await elsewhere
      .put(`/api/access/${ids.get('assistant')}`)
      .send({ role: 'head', open: true })
      .expect(404);
    expect((await by.get('assistant')!.get('/api/session')).body.coach.role).toBe('assistant');
  });

  test('who sees no people, sees none: an operator and a student', async () => {
    for (const role of ['operator', 'student'] as const)
      for (const path of [
        '/api/students',
        '/api/kit',
        '/api/sessions',
        '/api/reps?student=ada',
        '/api/prescriptions',
      ])
        await by.get(role)!.get(path).expect(403);
    const { body } = await by.get('student')!.get('/api/card').expect(200);
    expect(body).toMatchObject({ name: 'Ada', academy: 'Academy harbour', works: [] });
    await by.get('operator')!.get('/api/keeping').expect(200);
    await by.get('coach')!.get('/api/keeping').expect(403);
  });
});

describe('facts', () => {
  const at = () => new Date(Date.now() - 60_000).toISOString();
  const fact = (n: number, observer: string) => ({ id: factId(n), session: factId(500), at: at(), observer });
  const step = (n: number, observer: string) => ({
    ...fact(n, observer),
    student: 'ada',
    technique: 'test-lock',
    edition: 1,
    does: { is: 'accepted', terms: { ...someTerms, checkpoint: 'c2', mistake: null }, stood: null },
  });
  const sent = async (agent: Agent, batch: object) =>
    (
      (await agent.post('/api/reps').send(batch).expect(200)).body.items as {
        answer: string;
        reason?: string;
      }[]
    ).map(({ answer, reason = '' }) => `${answer} ${reason}`);

  test('are never signed as somebody else, and who sent them is kept', async () => {
    const assistant = by.get('assistant')!;
    const own = ids.get('assistant')!;
    const note = {
      person: 'ada',
      why: 'pain',
      regions: ['elbow'],
      side: null,
      until: at().slice(0, 10),
      words: '',
      replaces: null,
    };
    const forged = await sent(assistant, {
      reps: [aRep({ ...fact(10, 'coach') })],
      voids: [{ id: factId(11), rep: factId(1), at: at(), observer: 'coach', ofImport: false }],
      notes: [{ ...fact(12, 'coach'), ...note }],
      overrides: [
        {
          ...fact(13, 'coach'),
          student: 'ada',
          partner: 'ben',
          technique: 'test-lock',
          reason: 'they asked',
        },
      ],
    });
    expect(forged).toHaveLength(4);
    for (const told of forged)
      expect(told).toMatch(/^refused observer: .* cannot send the entries of "coach"$/);
    expect(await sent(assistant, { reps: [aRep({ ...fact(10, own) })] })).toEqual(['accepted ']);
    const { rows } = await database.pool.query('select sent_by from reps where id = $1', [factId(10)]);
    expect(rows).toEqual([{ sent_by: own }]);
  });

  test('that decide something are a coach’s to make', async () => {
    const [assistant, coach] = (['assistant', 'coach'] as const).map((role) => ids.get(role)!);
    const overrides = (n: number, observer: string) => [
      { ...fact(n, observer), student: 'ada', partner: 'ben', technique: 'test-lock', reason: 'they asked' },
    ];
    const told = await sent(by.get('assistant')!, {
      steps: [step(20, assistant!)],
      overrides: overrides(21, assistant!),
    });
    for (const one of told) expect(one).toMatch(/^refused observer: .* is for coaches/);
    const allowed = await sent(by.get('coach')!, {
      steps: [step(20, coach!)],
      overrides: overrides(21, coach!),
    });
    expect(allowed).toEqual(['accepted ', 'accepted ']);
  });

  test('a coach, and no assistant, writes down that a clinician has cleared somebody, and says who it was', async () => {
    const [assistant, coach] = (['assistant', 'coach'] as const).map((role) => ids.get(role)!);
    const yesterday = new Date(Date.now() - 30 * 3_600_000).toISOString();
    const note = (n: number, observer: string, fields: object) => ({
      ...fact(n, observer),
      person: 'ada',
      regions: [],
      side: null,
      until: at().slice(0, 10),
      words: '',
      replaces: null,
      ...fields,
    });
    const knocked = note(30, assistant!, {
      why: 'knock on the head',
      at: yesterday,
      until: yesterday.slice(0, 10),
    });
    expect(await sent(by.get('assistant')!, { notes: [knocked] })).toEqual(['accepted ']);
    const held = async () =>
      ((await head.get('/api/kit')).body.notes as { id: string }[]).some(({ id }) => id === factId(30));
    expect(await held()).toBe(true);
    const cleared = { why: 'cleared', replaces: factId(30), words: 'the club’s doctor' };
    expect((await sent(by.get('assistant')!, { notes: [note(31, assistant!, cleared)] }))[0]).toMatch(
      /only a coach records/,
    );
    const coachs = by.get('coach')!;
    expect((await sent(coachs, { notes: [note(32, coach!, { ...cleared, words: ' ' })] }))[0]).toMatch(
      /say who/,
    );
    expect((await sent(coachs, { notes: [note(33, coach!, { ...cleared, replaces: null })] }))[0]).toMatch(
      /name the note/,
    );
    expect(await sent(coachs, { notes: [note(34, coach!, cleared)] })).toEqual(['accepted ']);
  });

  test('an assistant adds guests, and changes nobody', async () => {
    const assistant = by.get('assistant')!;
    const put = (id: string, fields: object) =>
      assistant.put(`/api/students/${id}`).send({ ...aStudent(id), ...fields });
    await put('zoe', { guest: false }).expect(403);
    await put('zoe', { guest: true }).expect(200);
    await put('zoe', { guest: true, name: 'Zoë' }).expect(403);
    await put('ada', { guest: true }).expect(403);
  });
});

describe('a sign-in', () => {
  const cookieOf = (response: { headers: Record<string, unknown> }) =>
    String(response.headers['set-cookie']).split(';')[0]!;
  const enter = (given: object, cookie = '') =>
    supertest(app).post('/api/session').set('Cookie', cookie).send(given);
  const me = (cookie: string) => supertest(app).get('/api/devices').set('Cookie', cookie);

  test('takes the place of the one before on that device, and can be ended from another', async () => {
    await comesIn('coach', 'kim@harbour.example');
    const given = { email: 'kim@harbour.example', password };
    const first = cookieOf(await enter(given).expect(200));
    const second = cookieOf(await enter(given, first).expect(200));
    expect(second).not.toBe(first);
    await me(first).expect(401);
    const tablet = cookieOf(
      await enter(given).set('User-Agent', 'Mozilla/5.0 (Tablet; rv:140.0)').expect(200),
    );
    const { body } = await me(second).expect(200);
    const lost = body.devices.find(({ device }: { device: string }) => device === 'a tablet');
    expect(lost).toMatchObject({ here: false });
    await supertest(app).delete(`/api/devices/${lost.id}`).set('Cookie', second).expect(200);
    await me(tablet).expect(401);
    const third = cookieOf(await enter(given).expect(200));
    await supertest(app).delete('/api/devices').set('Cookie', second).expect(200);
    await me(third).expect(401);
    await me(second).expect(200);
  });

  test('ends after two weeks of nobody, and after thirty days', async () => {
    const given = { email: 'kim@harbour.example', password };
    const cookie = cookieOf(await enter(given).expect(200));
    const set = (column: string, ago: string) =>
      database.pool.query(
        `update sign_ins set ${column} = now() - interval '${ago}' where secret_hash in (select secret_hash from sign_ins order by opened_at desc limit 1)`,
      );
    await set('seen_at', '13 days');
    await me(cookie).expect(200);
    // Activity counts again.
    await me(cookie).expect(200);
    await set('seen_at', '15 days');
    await me(cookie).expect(401);
    const again = cookieOf(await enter(given).expect(200));
    await set('expires_at', '1 minute');
    await me(again).expect(401);
  });

  test('opens again with a new password, and all others close; a weak one is refused', async () => {
    const given = { email: 'kim@harbour.example', password };
    const [here, there] = [cookieOf(await enter(given)), cookieOf(await enter(given))];
    const change = (old: string, next: string) =>
      supertest(app).post('/api/password').set('Cookie', here).send({ old, password: next });
    await change('not this one', 'brine lantern orchard nine').expect(422);
    const { body } = await change(password, 'password12').expect(422);
    expect(body.error).toMatch(/easy to guess/);
    const changed = cookieOf(await change(password, 'brine lantern orchard nine').expect(200));
    await me(here).expect(401);
    await me(there).expect(401);
    await me(changed).expect(200);
    await enter(given).expect(401);
    await enter({ ...given, password: 'brine lantern orchard nine' }).expect(200);
  });

  test('is over when a head coach closes somebody’s access; somebody stays head', async () => {
    const leaving = await comesIn('coach', 'leaving@harbour.example');
    const { id } = (await leaving.get('/api/session')).body.coach;
    await head.put(`/api/access/${id}`).send({ role: 'coach', open: false }).expect(200);
    await leaving.get('/api/students').expect(401);
    await enter({ email: 'leaving@harbour.example', password }).expect(401);
    const { body } = await head.put(`/api/access/${id}`).send({ role: 'assistant', open: true }).expect(200);
    expect(body.people.find((one: { id: string }) => one.id === id)).toMatchObject({
      role: 'assistant',
      closedAt: null,
    });
    await enter({ email: 'leaving@harbour.example', password }).expect(200);
    const { error } = (await head.put('/api/access/coach').send({ role: 'coach', open: true }).expect(409))
      .body;
    expect(error).toMatch(/needs a head coach/);
  });
});

describe('an invitation', () => {
  test('is used once, is undone, tells no stranger anything, and is not used up by an email that is taken', async () => {
    const made = (await head.post('/api/invitations').send({ role: 'coach', name: 'Lou' }).expect(200)).body;
    const open = (secret: string) => supertest(app).post('/api/invitations/open').send({ secret });
    expect((await open(made.secret).expect(200)).body).toMatchObject({
      academy: 'Academy harbour',
      name: 'Lou',
      role: 'coach',
    });
    await open('harbour.wrong').expect(404);
    await open('nothing').expect(404);
    const accept = (email: string) =>
      supertest(app)
        .post('/api/invitations/accept')
        .send({ secret: made.secret, name: 'Lou', email, password });
    await accept('COACH@harbour.example').expect(409);
    // Of two at the same moment one comes in.
    const both = await Promise.all([accept('lou@harbour.example'), accept('lou2@harbour.example')]);
    expect(both.map(({ status }) => status).sort()).toEqual([200, 404]);
    await accept('lou3@harbour.example').expect(404);
    const other = (await head.post('/api/invitations').send({ role: 'operator', name: 'Op' }).expect(200))
      .body;
    expect((await head.get('/api/access')).body.invitations.map(({ id }: { id: string }) => id)).toEqual([
      other.id,
    ]);
    await head.delete(`/api/invitations/${other.id}`).expect(200);
    await open(other.secret).expect(404);
    await head.post('/api/invitations').send({ role: 'student', name: 'Ben' }).expect(400);
    await head.post('/api/invitations').send({ role: 'student', name: 'Ben', student: 'nobody' }).expect(404);
  });
});

describe('the first coach', () => {
  const first = { academy: 'Quay', name: 'Ife', email: 'ife@quay.example', password, starter: false };

  test('is asked for the code that the start command has printed, unless it is on the same machine', async () => {
    const fresh = await freshDatabase();
    const http = createHttpServer(createServer(fresh.db, settingsOf(fresh.db, { firstCode: 'ABCD2345' })));
    await new Promise<void>((resolve) => http.listen(0, '0.0.0.0', resolve));
    const { port } = http.address() as AddressInfo;
    const outside = Object.values(networkInterfaces())
      .flat()
      .find((one) => one && !one.internal && one.family === 'IPv4')?.address;
    const wanted = async (host: string) =>
      ((await (await fetch(`http://${host}:${port}/api/session`)).json()) as { codeWanted: boolean })
        .codeWanted;
    const come = (host: string, code: string) =>
      fetch(`http://${host}:${port}/api/coaches/first`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ ...first, code }),
      }).then(({ status }) => status);
    expect(await wanted('127.0.0.1')).toBe(false);
    // A machine without a network has no outside.
    if (outside) {
      expect(await wanted(outside)).toBe(true);
      expect(await come(outside, '')).toBe(403);
      expect(await come(outside, 'ABCD2346')).toBe(403);
      expect(await come(outside, ' abcd2345 ')).toBe(200);
    } else expect(await come('127.0.0.1', '')).toBe(200);
    expect(await come('127.0.0.1', '')).toBe(409);
    http.closeAllConnections();
    http.close();
    await fresh.drop();
  });
});

describe('notes about a person', () => {
  const note = (n: number, agent: Agent, words: string, seenBy = 'coaches') =>
    agent.put(`/api/students/ben/notes/${factId(n)}`).send({ words, seenBy });
  const seenBy = async (role: Role) =>
    (await by.get(role)!.get('/api/students/ben/notes').expect(200)).body.notes.map(
      ({ words }: { words: string }) => words,
    );

  test('are seen by whom their author chose, and changed and deleted by nobody else', async () => {
    const coach = by.get('coach')!;
    await note(501, coach, 'Is afraid of leg locks.').expect(200);
    await note(502, coach, 'Warms up slowly.', 'all who log').expect(200);
    await note(503, head, 'Bring the hips in first.', 'them too').expect(200);
    expect(await seenBy('coach')).toHaveLength(3);
    expect(await seenBy('assistant')).toEqual(['Bring the hips in first.', 'Warms up slowly.']);
    // One's own is changed; another's, or one about somebody else, is not.
    await note(502, coach, 'Warms up very slowly.', 'all who log').expect(200);
    await note(503, coach, 'Not theirs.').expect(409);
    await coach
      .put(`/api/students/ada/notes/${factId(502)}`)
      .send({ words: 'Elsewhere.', seenBy: 'coaches' })
      .expect(409);
    await note(504, by.get('assistant')!, 'No.').expect(403);
    await note(504, coach, '   ').expect(400);
    expect(await seenBy('assistant')).toEqual(['Bring the hips in first.', 'Warms up very slowly.']);
    await coach.delete(`/api/students/ben/notes/${factId(503)}`).expect(404);
    await head.delete(`/api/students/ben/notes/${factId(502)}`).expect(200);
    expect(await seenBy('assistant')).toEqual(['Bring the hips in first.']);
    await head.get('/api/students/nobody/notes').expect(404);
  });

  test('come to the person on their own card where they are meant for them, and to nobody else', async () => {
    const words = async () =>
      (await by.get('student')!.get('/api/card').expect(200)).body.words.map(
        (one: { words: string }) => one.words,
      );
    expect(await words()).toEqual([]);
    const put = (n: number, said: string, eyes: string) =>
      head
        .put(`/api/students/ada/notes/${factId(n)}`)
        .send({ words: said, seenBy: eyes })
        .expect(200);
    await put(510, 'Well fought on Friday.', 'them too');
    await put(511, 'Talk to the guardian.', 'coaches');
    expect(await words()).toEqual(['Well fought on Friday.']);
  });
});

describe('the access log is personal', () => {
  test('is written down for the head coach: once for a page that stays open, and each time for what is deleted', async () => {
    const clear = () =>
      database.pool.query(`begin; set local ulkret.forgets = 'on'; delete from accesses; commit`);
    await clear();
    // What is older than the house keeps is forgotten when somebody looks, and an entry says so.
    await database.pool.query(
      `insert into accesses (academy_id, by, what, at) select 'harbour', 'coach', 'took out every fact', now() - interval '13 months' from generate_series(1, 3)`,
    );
    const coach = by.get('coach')!;
    for (let i = 0; i < 3; i++) await coach.get('/api/students/ben/attendance').expect(200);
    for (let i = 0; i < 2; i++) await coach.get('/api/students/ben/everything').expect(200);
    await coach.get('/api/export/reps.csv?student=ada').expect(200);
    // What was refused, or is not there, was not looked at.
    await coach.get('/api/students/nobody/everything').expect(404);
    await by.get('operator')!.get('/api/students/ben/attendance').expect(403);
    const { body } = await head.get('/api/accesses').expect(200);
    expect(
      body.accesses.map(({ by: who, what, about, words }: Record<string, string>) => [
        who,
        what,
        about,
        words,
      ]),
    ).toEqual([
      ['the rules', 'forgot earlier entries', null, 'up to 3'],
      ['Some coach', 'took out the reps', 'Ada', ''],
      ['Some coach', 'took out all about', 'Ben', ''],
      ['Some coach', 'took out all about', 'Ben', ''],
      ['Some coach', 'looked at', 'Ben', ''],
    ]);
    expect([body.more, body.whole]).toEqual([false, true]);
    const of = (await head.get('/api/accesses?about=ada').expect(200)).body.accesses;
    expect(of).toHaveLength(1);
    // A page goes on after its last one, also where many were at the same moment.
    await database.pool.query(
      `insert into accesses (academy_id, by, what, at) select 'harbour', 'coach', 'took out every fact', now() - interval '30 days' from generate_series(1, 250)`,
    );
    const seen = new Set<string>();
    for (let [before, more] = ['', true]; more;) {
      const page = (await head.get(`/api/accesses?before=${before}`).expect(200)).body;
      for (const { id } of page.accesses as { id: string }[]) seen.add(id);
      ({ more } = page);
      before = page.accesses.at(-1).id;
    }
    expect(seen.size).toBe(255);
    await coach.get('/api/accesses').expect(403);
    expect((await elsewhere.get('/api/accesses').expect(200)).body.accesses).not.toContainEqual(
      expect.objectContaining({ by: 'Some coach' }),
    );
  });
});

describe('the access log is only added to', () => {
  const log = async () =>
    (await head.get('/api/accesses').expect(200)).body as {
      accesses: { by: string; what: string; about: string | null; words: string }[];
      whole: boolean;
    };

  test('it holds who came in and who failed to, and each role with what it was before', async () => {
    const post = (password: string) =>
      supertest(app).post('/api/session').send({ email: 'some-assistant@harbour.example', password });
    await post('not this one').expect(401);
    await post('nor this one').expect(401);
    const id = ids.get('assistant')!;
    const change = (role: string, open: boolean) =>
      head.put(`/api/access/${id}`).send({ role, open }).expect(200);
    await change('coach', true);
    await change('assistant', true);
    const { accesses } = await log();
    expect(accesses.slice(0, 3).map(({ what, words }) => [what, words])).toEqual([
      ['changed who may sign in', 'coach, open → assistant, open'],
      ['changed who may sign in', 'assistant, open → coach, open'],
      // Wrong passwords come in bursts: a minute of them is one entry.
      ['failed to sign in', ''],
    ]);
    const told = (await head.get('/api/accesses/notable').expect(200)).body.accesses as { what: string }[];
    expect(told.map(({ what }) => what)).toContain('failed to sign in');
    expect(told.map(({ what }) => what)).not.toContain('changed who may sign in');
  });

  test('nobody changes, deletes or empties it, and where it is done around the table the chain tells', async () => {
    for (const sql of [
      `update accesses set what = 'looked at'`,
      `update accesses set by = 'nobody', about = 'x-1'`,
      'delete from accesses',
      'truncate accesses',
    ])
      await expect(database.asOwner(sql)).rejects.toThrow('only added to');
    expect((await log()).whole).toBe(true);
    // Who is erased leaves it, and it stays whole.
    await by.get('coach')!.get('/api/students/cleo/attendance').expect(200);
    await head.delete('/api/students/cleo').expect(200);
    const after = await log();
    expect(JSON.stringify(after.accesses)).not.toContain('cleo');
    expect(after.whole).toBe(true);
    const around = (sql: string) =>
      database.asOwner(`begin; set local session_replication_role = 'replica'; ${sql}; commit`);
    const last = `(select max(seq) from accesses where academy_id = 'harbour')`;
    for (const forged of [
      `update accesses set words = 'nothing' where academy_id = 'harbour' and seq = ${last} - 1`,
      `delete from accesses where academy_id = 'harbour' and seq = ${last} - 2`,
    ]) {
      await around(`create table kept as select * from accesses; ${forged}`);
      expect((await log()).whole).toBe(false);
      await around('delete from accesses; insert into accesses select * from kept; drop table kept');
      expect((await log()).whole).toBe(true);
    }
  });
});

describe('who takes everything out, erases or changes a role', () => {
  test('has proved who they are within the last quarter of an hour, and is asked again where not', async () => {
    const { pool } = database;
    await pool.query(`update sign_ins set proved_at = now() - interval '16 minutes'`);
    const asked = (Object.entries(endpoints) as [string, Endpoint][]).filter(([, { again }]) => again);
    expect(asked.map(([name]) => name)).toEqual(
      expect.arrayContaining(['exportAcademy', 'exportFacts', 'erase', 'changeAccess', 'addPasskey']),
    );
    for (const [name, endpoint] of asked) {
      const { status, body } = await head[endpoint.method](addressOf(endpoint)).send({});
      expect([name, status, body.again]).toEqual([name, 403, true]);
    }
    // All else goes on.
    await head.get('/api/students').expect(200);
    await head.post('/api/session/proof').send({ password: 'not this one' }).expect(422);
    await head.get('/api/session/proof').expect(403);
    await head.post('/api/session/proof').send({ password }).expect(200);
    await head.get('/api/session/proof').expect(200);
    await head.get('/api/export/facts.json').expect(200);
    // A passkey that nobody has made opens nothing, and proves nothing.
    const passkey = { id: 'nobodys', response: {} };
    await supertest(app).post('/api/session/passkey').send({ passkey }).expect(401);
    await head.post('/api/session/proof').send({ passkey }).expect(401);
  });
});

describe('wrong sign-ins', () => {
  const at = (server: Express, address: string) => (email: string, word: string, cookie?: string) =>
    supertest(server)
      .post('/api/session')
      .set('X-Forwarded-For', address)
      .set('Cookie', cookie ?? '')
      .send({ email, password: word });
  const proxied = () => createServer(database.db, settingsOf(database.db, { trustProxy: true }));

  test('are counted through a restart and on every server, and say nothing of whose they are', async () => {
    const [one, other] = [at(proxied(), '198.51.100.1'), at(proxied(), '198.51.100.1')];
    for (let i = 0; i < 3; i++) await one('some-coach@harbour.example', 'not it').expect(401);
    for (let i = 0; i < 3; i++) await other('some-coach@harbour.example', 'not it').expect(401);
    await one('some-coach@harbour.example', password).expect(429);
    await at(proxied(), '198.51.100.1')('some-coach@harbour.example', password).expect(429);
    const { rows } = await database.pool.query('select key from rate_limits');
    expect(JSON.stringify(rows)).not.toMatch(/harbour|198\.51/);
  });

  test('a thousand of them at once cost a working coach nothing', async () => {
    const server = proxied();
    const trying = Array.from({ length: 20 }, async (_, place) => {
      const statuses: number[] = [];
      for (let i = 0; i < 50; i++) {
        const { status } = await at(server, `192.0.3.${place}`)(`guessed-${i % 5}@harbour.example`, 'not it');
        statuses.push(status);
      }
      return statuses;
    });
    let [asked, over] = [0, false];
    const all = Promise.all(trying).finally(() => (over = true));
    while (!over) {
      await by.get('coach')!.get('/api/students').expect(200);
      asked++;
    }
    const statuses = (await all).flat();
    expect(statuses).toHaveLength(1000);
    expect(new Set(statuses)).toEqual(new Set([401, 429]));
    expect(asked).toBeGreaterThan(10);
  }, 120_000);

  test('of somebody elsewhere keep nobody from their own account', async () => {
    const server = proxied();
    const from = (address: string) => at(server, address);
    const email = 'some-assistant@harbour.example';
    for (let i = 0; i < 7; i++) await from('198.51.100.7')(email, 'not it');
    await from('198.51.100.7')(email, 'not it').expect(429);
    const { headers } = await from('203.0.113.7')(email, password).expect(200);
    const known = (headers['set-cookie'] as unknown as string[])
      .map((cookie) => cookie.split(';')[0]!)
      .find((cookie) => cookie.startsWith('ulkret_known='))!;
    // Many guess from many places: then only a device that has been in before comes in.
    const places = Array.from({ length: 30 }, (_, i) => `192.0.2.${i + 1}`);
    await Promise.all(
      places.map(async (place) => {
        for (let i = 0; i < 5; i++) await from(place)(email, 'not it');
      }),
    );
    await from('203.0.113.8')(email, password).expect(429);
    await from('203.0.113.8')(email, password, known).expect(200);
    // It opens nothing on its own, and is no other one's.
    await from('203.0.113.8')(email, 'not it', known).expect(401);
    await from('203.0.113.8')(email, password, known.replace(/.$/, '')).expect(429);
    await supertest(server).get('/api/students').set('Cookie', known).expect(401);
  }, 60_000);
});

describe('behind a proxy', () => {
  const ask = async (trustProxy: boolean) => {
    const behind = createServer(database.db, settingsOf(database.db, { trustProxy }));
    return supertest(behind)
      .post('/api/session')
      .set({ 'X-Forwarded-Proto': 'https', 'X-Forwarded-For': '203.0.113.9' })
      .send({ email: 'coach@harbour.example', password })
      .expect(200);
  };
  test('that is trusted, a sign-in by HTTPS stays there; what a stranger says of it counts for nothing', async () => {
    const trusted = await ask(true);
    expect(String(trusted.headers['set-cookie'])).toMatch(/Secure/);
    expect(trusted.headers['strict-transport-security']).toMatch(/max-age/);
    const stranger = await ask(false);
    expect(String(stranger.headers['set-cookie'])).not.toMatch(/Secure/);
    expect(stranger.headers['strict-transport-security']).toBeUndefined();
  });

  test('it tells callers apart: somebody who tries wrong passwords locks out nobody else', async () => {
    const behind = createServer(database.db, settingsOf(database.db, { trustProxy: true }));
    const from = (address: string, email: string) =>
      supertest(behind)
        .post('/api/session')
        .set('X-Forwarded-For', address)
        .send({ email, password: 'wrong one' });
    for (let i = 0; i < 201; i++) await from('203.0.113.1', `who-${i}@harbour.example`);
    await from('203.0.113.1', 'somebody@harbour.example').expect(429);
    await from('203.0.113.2', 'somebody@harbour.example').expect(401);
  });
});

describe('what changes something', () => {
  test.each([
    ['a page of another site', { 'sec-fetch-site': 'cross-site' }, 403],
    ['another server of the same site', { 'sec-fetch-site': 'same-site' }, 403],
    ['another origin', { origin: 'https://elsewhere.example' }, 403],
    ['no origin that can be read', { origin: 'null' }, 403],
    ['a page of this server', { 'sec-fetch-site': 'same-origin', origin: 'https://anything.example' }, 401],
    ['this origin', { origin: 'http://mat.example', host: 'mat.example' }, 401],
    ['no page at all', {}, 401],
  ])('is taken or refused by where it comes from: %s', async (_, headers, status) => {
    const body = { email: 'nobody@nowhere.example', password: 'not this one' };
    await supertest(app).post('/api/session').set(headers).send(body).expect(status);
  });

  test('and what only reads is answered anywhere', async () => {
    await supertest(app).get('/api/health').set('sec-fetch-site', 'cross-site').expect(200);
  });
});
