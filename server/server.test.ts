import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { endpoints } from '@ulkret/contract';
import { neutralRules } from '@ulkret/core/care';
import type { Drill } from '@ulkret/core/drills';
import { decide, decidedBy, type Decision, knownOf } from '@ulkret/core/prescription';
import { finished } from '@ulkret/core/hazard';
import {
  everything,
  fitAcademy,
  fullReading,
  plainReading,
  usualWeeks,
  weeksBefore,
} from '@ulkret/core/reading';
import type { Express } from 'express';
import supertest from 'supertest';
import { noFacts } from '@ulkret/core/facts';
import { later } from '@ulkret/core/rep';
import { aRep, factId, plainBreakdown, questionOf, aSession } from '../core/test';
import { aStudent, anAcademy, password, settingsOf, signedIn, testTechnique, takeAll } from './test/academy';
import { freshDatabase } from './test/database';
import { connect } from './db/connect';
import { createServer } from './index';
import { addTechnique } from './library/techniques';
import { Reader } from './readings/read';
import { listenForFacts, type Live } from './live/live';
import { stopTheClock } from './test/clock';

const shown = {
  demoSignIn: { email: 'demo@example.example', password: 'x' },
  starter: [{ technique: testTechnique, editions: [plainBreakdown(5)] }],
};
const breakdown = plainBreakdown(5);

let database: Awaited<ReturnType<typeof freshDatabase>>;
let app: Express;
let live: Live;
type Agent = Awaited<ReturnType<typeof signedIn>>;
let harbour: Agent;
let hill: Agent;

stopTheClock();

beforeAll(async () => {
  database = await freshDatabase();
  live = listenForFacts(database.url, database.db);
  app = createServer(database.db, settingsOf(database.db, { ...shown, live }));
  await anAcademy(database.db, 'harbour');
  await anAcademy(database.db, 'hill');
  [harbour, hill] = await Promise.all([signedIn(app, 'harbour'), signedIn(app, 'hill')]);
});
afterAll(async () => {
  await live.close();
  await database.drop();
});

const answers = async (agent: Agent, body: object) => {
  const { body: answered } = await agent.post('/api/reps').send(body).expect(200);
  return (answered as { items: { answer: string; reason?: string }[] }).items.map(({ answer }) => answer);
};

test('security.txt names the contact where there is one', async () => {
  const named = createServer(
    database.db,
    settingsOf(database.db, { security: 'mailto:door@harbour.example' }),
  );
  const { text } = await supertest(named).get('/.well-known/security.txt').expect(200);
  expect(text).toMatch(/^Contact: mailto:door@harbour\.example\nExpires: \d{4}-/);
  await supertest(app).get('/.well-known/security.txt').expect(404);
});

describe('access', () => {
  test('says it is well without a sign-in, and who is signed in', async () => {
    await supertest(app)
      .get('/api/health')
      .expect(200, { status: 'ok', version: 'test', database: 'ok', wrong: [] });
    const { body } = await supertest(app).get('/api/session').expect(200);
    expect(body).toEqual({
      coach: null,
      academy: null,
      closed: false,
      firstCoachWanted: false,
      codeWanted: false,
      demoSignIn: null,
    });
    expect((await harbour.get('/api/session')).body.academy.name).toBe('Academy harbour');
  });

  test('refuses everything else to strangers, with what to do', async () => {
    for (const { method, path, who } of Object.values(endpoints)) {
      if (who === 'anyone') continue;
      const { body, status } = await supertest(app)[method](path.replace(/:\w+/g, factId(1)));
      expect({ path, status }).toEqual({ path, status: 401 });
      expect(body.todo).toMatch(/Sign in/);
    }
  });

  test('lets in by role, and the gate is the contract’s: what is for the head coach is refused to an assistant', async () => {
    await anAcademy(database.db, 'roles');
    await database.pool.query(
      `insert into coaches select academy_id, 'assistant', 'Assistant', 'assistant@roles.example', password_hash, 'assistant'
         from coaches where academy_id = 'roles'`,
    );
    const head = await signedIn(app, 'roles');
    const assistant = supertest.agent(app);
    await assistant.post('/api/session').send({ email: 'assistant@roles.example', password }).expect(200);
    const set = { units: 'lb and ft' };
    const { body } = await assistant.put('/api/academy').send(set).expect(403);
    expect(body.error).toMatch(/Head coach/);
    expect((await head.get('/api/session')).body.academy.units).toBe('kg and cm');
    expect((await head.put('/api/academy').send(set).expect(200)).body.academy).toMatchObject(set);
    expect((await assistant.get('/api/session')).body.academy.units).toBe('lb and ft');
    expect((await harbour.get('/api/session')).body.academy.units).toBe('kg and cm');
    // The days of an academy are those of where it is.
    const here = await head.put('/api/academy').send({ zone: 'Pacific/Auckland' }).expect(200);
    expect(here.body.academy).toMatchObject({ zone: 'Pacific/Auckland', ...set });
    expect((await assistant.get('/api/session')).body.academy.zone).toBe('Pacific/Auckland');
    await head.put('/api/academy').send({ zone: 'Middle/Earth' }).expect(400);
    // Its weeks begin on the weekday that it says, and readings say on which day the first of them did.
    const sundays = await head.put('/api/academy').send({ weekBegins: 'sunday' }).expect(200);
    expect(sundays.body.academy).toMatchObject({ weekBegins: 'sunday', zone: 'Pacific/Auckland', ...set });
    const { settings } = (await head.get('/api/rates?technique=test-lock&weeks=4&method=plain').expect(200))
      .body;
    expect(settings.weekBegins).toBe('sunday');
    expect(new Date(settings.since).getUTCDay()).toBe(0);
    await head.put('/api/academy').send({ weekBegins: 'someday' }).expect(400);
    await head.put('/api/academy').send({}).expect(400);
    await assistant.get('/api/students').expect(200);
  });

  test('keeps the sign-in in a cookie that no script and no other site can use, and only its hash in the database', async () => {
    const response = await supertest(app)
      .post('/api/session')
      .send({ email: 'COACH@harbour.example', password });
    const cookie = String(response.headers['set-cookie']);
    expect(cookie).toMatch(/HttpOnly/);
    expect(cookie).toMatch(/SameSite=Strict/);
    const secret = /\.([\w-]+);/.exec(cookie)![1]!;
    const { rows } = await database.pool.query('select secret_hash from sign_ins');
    expect(rows.some(({ secret_hash: hash }) => hash === secret)).toBe(false);
  });

  test('says the same for a wrong password and an unknown email, and signs out for good', async () => {
    const wrong = await supertest(app)
      .post('/api/session')
      .send({ email: 'coach@hill.example', password: 'nope' });
    const unknown = await supertest(app)
      .post('/api/session')
      .send({ email: 'who@hill.example', password: 'nope' });
    expect([wrong.status, unknown.status]).toEqual([401, 401]);
    expect(wrong.body).toEqual(unknown.body);
    const agent = await signedIn(app, 'hill');
    await agent.delete('/api/session').expect(200);
    await agent.get('/api/students').expect(401);
  });

  test('ends a sign-in that has expired', async () => {
    const agent = await signedIn(app, 'hill');
    await database.pool.query(
      "update sign_ins set expires_at = now() - interval '1 second' where academy_id = 'hill'",
    );
    await agent.get('/api/students').expect(401);
    hill = await signedIn(app, 'hill');
  });

  test('makes the first coach once, and never again', async () => {
    const empty = await freshDatabase();
    const first = createServer(empty.db, settingsOf(empty.db, shown));
    expect((await supertest(first).get('/api/session')).body.firstCoachWanted).toBe(true);
    const body = {
      academy: 'New',
      name: 'Nina',
      email: 'nina@new.example',
      password: 'long enough',
      starter: true,
    };
    await supertest(first)
      .post('/api/coaches/first')
      .send({ ...body, password: 'short' })
      .expect(400);
    const agents = [supertest.agent(first), supertest.agent(first)];
    const made = await Promise.all(agents.map((agent) => agent.post('/api/coaches/first').send(body)));
    expect(made.map(({ status }) => status).sort()).toEqual([200, 409]);
    const winner = agents[made.findIndex(({ status }) => status === 200)]!;
    expect((await winner.get('/api/techniques')).body.techniques).toHaveLength(1);
    // What ships can be taken later as well; what is there stays as it is.
    const take = async () => (await winner.post('/api/library/shipped').expect(200)).body;
    expect(await take()).toEqual({ added: [], there: 1 });
    await empty.pool.query('delete from breakdowns; delete from techniques');
    const both = await Promise.all([take(), take()]);
    expect(both.map(({ added }) => added.length).sort()).toEqual([0, 1]);
    expect((await winner.get('/api/techniques')).body.techniques).toHaveLength(1);
    await empty.drop();
  });
});

describe('when it cannot answer', () => {
  test('a few wrong passwords block one account for a while; others at the same address are not kept out', async () => {
    const closed = createServer(database.db, settingsOf(database.db));
    const tryIn = (email: string, word: string) =>
      supertest(closed).post('/api/session').send({ email, password: word });
    // What cannot be read is no try.
    for (let i = 0; i < 20; i++) await supertest(closed).post('/api/session').send({ email: 7 }).expect(400);
    for (let i = 0; i < 6; i++) await tryIn('coach@harbour.example', 'not it').expect(401);
    const { body, headers } = await tryIn(' Coach@Harbour.example', 'not it').expect(429);
    expect(Number(headers['retry-after'])).toBeGreaterThan(0);
    expect(body).toEqual({
      error: expect.stringMatching(/wrong sign-ins/),
      todo: expect.stringMatching(/Wait a minute/),
    });
    await tryIn('coach@hill.example', 'not it').expect(401);
    await tryIn('coach@hill.example', password).expect(200);
    // Who is in stays in, and works.
    await harbour.get('/api/students').expect(200);
  });

  test('a database that is away is a 503 that says that nothing on the device is lost', async () => {
    const { db, close } = connect('postgres://nobody@127.0.0.1:1/none');
    const away = createServer(db, settingsOf(db));
    const { body } = await supertest(away).get('/api/health').expect(503);
    expect(body).toEqual({
      error: 'The database cannot be reached.',
      todo: expect.stringMatching(/safe on this device/),
    });
    await close();
  });
});

describe('academies', () => {
  test('never see each other’s people, sessions, reps or readings', async () => {
    await harbour.put('/api/students/harbour-only').send(aStudent('harbour-only')).expect(200);
    const rep = aRep({ student: 'harbour-only', stop: 'c2' });
    expect(await answers(harbour, { reps: [rep] })).toEqual(['accepted']);
    const people = (await hill.get('/api/students')).body.students as { id: string }[];
    expect(people.some(({ id }) => id === 'harbour-only')).toBe(false);
    expect((await hill.get('/api/readings?technique=test-lock')).body.students).toEqual([]);
    expect((await hill.get('/api/export/reps.csv')).text.trim().split('\r\n')).toHaveLength(1);
    expect(await answers(hill, { reps: [rep] })).toEqual(['refused']);
    const unseen = { voids: [{ id: factId(7001), rep: rep.id, at: rep.at, observer: 'coach' }] };
    expect(await answers(hill, unseen)).toEqual(['accepted']);
    expect((await harbour.get(`/api/reps?technique=test-lock&checkpoint=c2`)).body.reps).toHaveLength(1);
  });
});

describe('a batch of facts', () => {
  test('sent twice, or three times at once, changes nothing the second time', async () => {
    const reps = Array.from({ length: 40 }, (_, i) => aRep({ student: 'dan', stop: `c${1 + (i % 5)}` }));
    expect(new Set(await answers(hill, { reps }))).toEqual(new Set(['accepted']));
    const again = await Promise.all([1, 2, 3].map(() => answers(hill, { reps: [...reps].reverse() })));
    expect(new Set(again.flat())).toEqual(new Set(['known']));
    const { body } = await hill.get('/api/readings?technique=test-lock&student=dan');
    expect(body.students[0].reading.reps).toBe(40);
  });

  test('answers each item for itself: accepted, known, or refused with a reason', async () => {
    const good = aRep({ stop: 'c1' });
    const { body } = await hill
      .post('/api/reps')
      .send({
        reps: [
          good,
          good,
          { ...good, rung: 3 },
          aRep({ student: 'nobody-here' }),
          aRep({ stop: 'c9' }),
          aRep({ edition: 4 }),
          { ...aRep(), observer: 'somebody' },
          { ...aRep(), id: 'not a uuid' },
        ],
        voids: [{ id: factId(8001), rep: 'x', at: good.at, observer: 'coach' }],
        tags: [
          { id: factId(8002), rep: good.id, cause: 'm1', at: good.at, observer: 'coach' },
          { id: factId(8003), rep: good.id, cause: 'm99', at: good.at, observer: 'coach' },
        ],
      })
      .expect(200);
    const items = body.items as { answer: string; reason?: string }[];
    expect(items.map(({ answer }) => answer)).toEqual([
      'accepted',
      'known',
      'refused',
      'refused',
      'refused',
      'refused',
      'refused',
      'refused',
      'refused',
      'accepted',
      'refused',
    ]);
    expect(items.map(({ reason = '' }) => reason.split(':')[0])).toEqual([
      '',
      '',
      'another fact already has this id, and facts are never edited',
      'student',
      'stop',
      'technique',
      'observer',
      'id',
      'rep',
      '',
      expect.stringMatching(/no mistake or defence/),
    ]);
  });

  test('takes a void before its rep, and a tag before its rep', async () => {
    const rep = aRep({ student: 'cleo', stop: 'c3' });
    const other = aRep({ student: 'cleo', stop: 'c3' });
    const told = { at: rep.at, observer: 'coach' };
    const late = { id: factId(9002), rep: other.id, cause: 'd3', ...told };
    expect(
      await answers(hill, { voids: [{ id: factId(9001), rep: rep.id, ...told }], tags: [late] }),
    ).toEqual(['accepted', 'accepted']);
    expect(await answers(hill, { reps: [rep, other] })).toEqual(['accepted', 'accepted']);
    const { body } = await hill.get('/api/readings?technique=test-lock&student=cleo');
    const third = body.students[0].reading.checkpoints[2];
    expect(third).toMatchObject({ reached: 1, failed: 1 });
    const tagged = third.causes.filter(({ stops }: { stops: number }) => stops > 0);
    expect(tagged).toMatchObject([{ cause: 'd3', kind: 'defence', stops: 1 }]);
  });

  test('brings an undone rep back, in whichever order the undo and the restoring come', async () => {
    const rep = aRep({ student: 'ben', partner: 'ada', stop: 'c4', note: 'restored' });
    const about = (n: number, seconds: number) => ({
      id: factId(n),
      rep: rep.id,
      at: later(rep.at, seconds * 1000),
      observer: 'coach',
      device: 'tablet',
    });
    const inCsv = async () =>
      (await hill.get('/api/export/reps.csv')).text.split('\r\n').filter((row) => row.includes(rep.id))
        .length;
    await answers(hill, { reps: [rep], voids: [{ ...about(9101, 60), restores: true }] });
    expect(await inCsv()).toBe(1);
    // The undo comes late, and is of before.
    expect(await answers(hill, { voids: [about(9102, 30)] })).toEqual(['accepted']);
    expect(await inCsv()).toBe(1);
    await answers(hill, { voids: [about(9103, 90)] });
    expect(await inCsv()).toBe(0);
    await answers(hill, { voids: [{ ...about(9104, 120), restores: true }] });
    expect(await inCsv()).toBe(1);
    const { body } = await hill.get('/api/readings?technique=test-lock&student=ben');
    expect(body.students[0].reading.checkpoints[3]).toMatchObject({ failed: 1 });
  });

  test('that was logged today in any class is there for the caps of the day, and nobody else’s', async () => {
    const started = new Date(Date.now() - 3_600_000).toISOString();
    const session = aSession({ startedAt: started, id: factId(9200), pairs: [['ada', 'ben']] });
    await hill.put(`/api/sessions/${session.id}`).send(session).expect(200);
    const old = aSession({
      startedAt: later(started, -3 * 86_400_000),
      id: factId(9201),
      pairs: [['ada', 'ben']],
    });
    await hill.put(`/api/sessions/${old.id}`).send(old).expect(200);
    const reps = [session, old].map(({ id }) =>
      aRep({ session: id, at: later(started, 60_000), student: 'ada', partner: 'ben', stop: 'c5' }),
    );
    await answers(hill, { reps });
    const { body } = await hill.get('/api/day').expect(200);
    const ids = (body.reps as { id: string }[]).map(({ id }) => id);
    expect(ids).toContain(reps[0]!.id);
    expect(ids).not.toContain(reps[1]!.id);
    const others = (await harbour.get('/api/day')).body.reps as { id: string }[];
    expect(others.map(({ id }) => id)).not.toContain(reps[0]!.id);
  });

  test('that is too large, or no batch at all, is refused whole with what to do', async () => {
    const { body } = await hill.post('/api/reps').send({ reps: 'all of them' }).expect(400);
    expect(body.error).toMatch(/reps/);
    const many = Array.from({ length: 5001 }, () => ({ id: 'x' }));
    expect((await hill.post('/api/reps').send({ reps: many }).expect(400)).body.error).toMatch(
      /at most 5000/,
    );
    const garbled = await hill.post('/api/reps').set('content-type', 'application/json').send('{"reps": [');
    expect(garbled.status).toBe(400);
  });
});

describe('readings', () => {
  const asOf = '2026-03-06T00:00:00Z';
  const everyRep = async () => {
    const evidence = await hill.get(`/api/reps?technique=test-lock&checkpoint=c1&asOf=${asOf}`);
    return evidence.body.reps.map((each: { rep: unknown }) => each.rep);
  };

  test.each(['plain', 'full'] as const)(
    'by the %s method are what the core makes of the exported reps',
    async (method) => {
      const query = `technique=test-lock&rung=&method=${method}&weeks=${usualWeeks}&asOf=${asOf}`;
      const { body } = await hill.get(`/api/readings?${query}`).expect(200);
      const { body: one } = await hill.get(`/api/readings?student=dan&${query}`).expect(200);
      const dan = body.students.find(
        (each: { reading: { student: string } }) => each.reading.student === 'dan',
      );
      expect(one.students).toEqual([dan]);
      const folding = { asOf, halfLifeDays: 28, since: weeksBefore(asOf, usualWeeks - 1) };
      const question = questionOf(breakdown, await everyRep(), { folding });
      const expected =
        method === 'plain'
          ? plainReading(question)
          : fullReading(question, finished(fitAcademy(question.cells, question.mainSides)));
      const mine = expected.students.find(({ student }) => student === 'dan')!;
      expect(dan.reading).toEqual(mine);
      expect(body.settings).toEqual({
        model: 'hazard/3',
        method,
        asOf,
        weekBegins: 'monday',
        since: folding.since,
        halfLifeDays: 28,
        slice: { rung: null, side: null, partner: null },
      });
    },
  );

  test('come with the one decision, whatever is asked: that of the full reading of the usual weeks', async () => {
    const recent = (i: number) => new Date(Date.now() - (i + 1) * 3_600_000).toISOString();
    const reps = Array.from({ length: 60 }, (_, i) =>
      aRep({
        id: factId(700_000 + i),
        at: recent(i),
        student: ['ada', 'ben', 'cleo'][i % 3]!,
        partner: 'dan',
        ...(i % 2 || i % 3 === 0 ? { stop: i % 3 === 0 ? 'c2' : 'c4' } : {}),
      }),
    );
    await anAcademy(database.db, 'cove');
    const cove = await signedIn(app, 'cove');
    expect(new Set(await answers(cove, { reps }))).toEqual(new Set(['accepted']));
    const { body } = await cove.get('/api/decisions?technique=test-lock').expect(200);
    const { drills } = (await cove.get('/api/drills').expect(200)).body as { drills: Drill[] };
    const question = questionOf(breakdown, reps, {
      folding: {
        asOf: new Date().toISOString(),
        halfLifeDays: decidedBy.halfLifeDays,
        since: weeksBefore(new Date().toISOString(), decidedBy.weeks - 1),
      },
    });
    const full = fullReading(question, finished(fitAcademy(question.cells, question.mainSides)));
    expect(body).toEqual({
      technique: 'test-lock',
      edition: 1,
      decisions: decide(breakdown, full, (id) => ({
        ...knownOf(aStudent(id), testTechnique, { rules: neutralRules, today: '2026-03-05' }),
        drills,
      })),
    });
    expect(body.decisions.map(({ student }: Decision) => student)).toEqual(['ada', 'ben', 'cleo']);
    for (const query of ['', '&method=plain', '&rung=2&side=right', '&weeks=4', '&halfLife=7']) {
      const { body: read } = await cove.get(`/api/readings?technique=test-lock${query}`).expect(200);
      expect(
        (read.students as { reading: { student: string }; prescription: object }[]).map(
          ({ reading, prescription }) => ({ student: reading.student, prescription }),
        ),
      ).toEqual(body.decisions.map(({ student, prescription }: Decision) => ({ student, prescription })));
    }
  });

  test('are made once, and again when a rep, a person or an edition changes them', async () => {
    await anAcademy(database.db, 'bay');
    const [reader, reps] = [
      new Reader(database.db),
      Array.from({ length: 20 }, (_, i) =>
        aRep({
          id: factId(710_000 + i),
          at: new Date().toISOString(),
          student: i % 2 ? 'ada' : 'ben',
          partner: 'dan',
        }),
      ),
    ];
    await takeAll(database.db, 'bay', { reps });
    const asked = { technique: 'test-lock', method: 'full', slice: everything } as const;
    const once = async () => (await reader.read('bay', asked))!.reading;
    const first = await once();
    expect(await once()).toBe(first);
    await takeAll(database.db, 'bay', {
      voids: [{ id: factId(719_000), rep: reps[0]!.id, at: new Date().toISOString(), observer: 'coach' }],
    });
    const second = await once();
    expect(second.squad.reps).toBe(19);
    const bay = await signedIn(app, 'bay');
    await bay
      .put('/api/students/ada')
      .send(aStudent('ada', { mainSide: 'left' }))
      .expect(200);
    const third = await once();
    expect(third).not.toBe(second);
    expect(await once()).toBe(third);
    await addTechnique(database.db, 'bay', { technique: testTechnique, editions: [plainBreakdown(5, 2)] });
    expect((await once()).edition).toBe(2);
    // A second process reads the same, with the scales that the first one has kept.
    expect((await new Reader(database.db).read('bay', asked))!.reading).toEqual(await once());
  });

  test('are made of cells that hold what the evidence holds', async () => {
    const { body } = await hill.get(`/api/tallies?technique=test-lock&asOf=${asOf}`).expect(200);
    const reps = await everyRep();
    const reached = (body.cells as { checkpoints: Record<string, { reached: number }> }[]).reduce(
      (sum, { checkpoints }) => sum + (checkpoints['c1']?.reached ?? 0),
      0,
    );
    expect(reached).toBe(reps.length);
  });

  test('of an unknown technique, student or rung are refused by name', async () => {
    expect((await hill.get('/api/readings?technique=nope').expect(404)).body.error).toMatch(/nope/);
    expect((await hill.get('/api/readings?technique=test-lock&student=nope').expect(404)).body.error).toMatch(
      /nope/,
    );
    expect((await hill.get('/api/readings?technique=test-lock&rung=9').expect(400)).body.error).toMatch(
      /rung/,
    );
    expect((await hill.get('/api/readings').expect(400)).body.error).toMatch(/technique/);
  });
});

describe('sessions', () => {
  const session = aSession({
    id: factId(600),
    startedAt: '2026-03-05T18:00:00.000Z',
    pairs: [['ada', 'ben']],
  });

  test('are kept under the id of the device, with their facts', async () => {
    await hill.put(`/api/sessions/${session.id}`).send(session).expect(200);
    await hill.put(`/api/sessions/${session.id}`).send(session).expect(200);
    const rep = aRep({ session: session.id, at: '2026-03-05T18:10:00.250Z' });
    const wrong = aRep({ session: session.id, at: '2026-03-05T18:10:01.000Z' });
    const taken = { id: factId(601), rep: wrong.id, at: '2026-03-05T18:10:02.000Z', observer: 'coach' };
    await answers(hill, { reps: [rep, wrong], voids: [taken] });
    const { body } = await hill.get(`/api/sessions/${session.id}`).expect(200);
    expect(body).toEqual({
      session,
      facts: {
        ...noFacts(),
        reps: expect.arrayContaining([rep, wrong]),
        voids: [{ ...taken, ofImport: false }],
      },
    });
    const rows = (await hill.get('/api/sessions')).body.sessions as {
      reps: number;
      session: { id: string };
    }[];
    expect(rows.find((row) => row.session.id === session.id)?.reps).toBe(1);
    await harbour.get(`/api/sessions/${session.id}`).expect(404);
  });

  test('never change: what comes later is a fact of its own, and another under the same id is refused', async () => {
    await hill
      .put(`/api/sessions/${session.id}`)
      .send({ ...session, rung: 3 })
      .expect(400);
    const told = { session: session.id, at: '2026-03-05T18:30:00.000Z', observer: 'coach' };
    const change = { id: factId(610), ...told, set: { is: 'pairs', pairs: [['ada', 'cleo']] } };
    const end = { id: factId(611), ...told, set: { is: 'end' } };
    const stranger = { id: factId(612), ...told, set: { is: 'pairs', pairs: [['ada', 'zed']] } };
    expect(await answers(hill, { changes: [change, end, stranger] })).toEqual([
      'accepted',
      'accepted',
      'refused',
    ]);
    expect(await answers(hill, { changes: [change] })).toEqual(['known']);
    const { body } = await hill.get(`/api/sessions/${session.id}`).expect(200);
    expect(body.session).toEqual(session);
    expect(body.facts.changes).toEqual(expect.arrayContaining([change, end]));
    const rows = (await hill.get('/api/sessions')).body.sessions as {
      session: { id: string; endedAt: string };
    }[];
    expect(rows.find((row) => row.session.id === session.id)?.session.endedAt).toBe(told.at);
  });

  test('carry care notes and overrides, but none that lets a minor do what is refused', async () => {
    await hill
      .put('/api/students/young')
      .send(aStudent('young', { born: '2015-01-01' }))
      .expect(200);
    const told = { session: session.id, at: '2026-03-05T18:30:00.000Z', observer: 'coach' };
    const note = {
      id: factId(620),
      ...told,
      person: 'ben',
      why: 'tap out',
      regions: ['shoulder'],
      side: null,
      until: '2026-03-05',
      words: '',
      replaces: null,
    };
    const override = (id: number, student: string, at = told.at) => ({
      id: factId(id),
      ...told,
      at,
      student,
      partner: 'ben',
      technique: 'test-lock',
      reason: 'seen and agreed with both',
    });
    expect(
      await answers(hill, {
        notes: [note],
        // Of age by the clock of a device that is years ahead is not of age.
        overrides: [
          override(621, 'ada'),
          override(622, 'young'),
          override(623, 'young', '2040-03-05T18:30:00.000Z'),
        ],
      }),
    ).toEqual(['accepted', 'accepted', 'refused', 'refused']);
    const { body } = await hill.get(`/api/sessions/${session.id}`).expect(200);
    expect([body.facts.notes, body.facts.overrides]).toEqual([[note], [override(621, 'ada')]]);
    expect((await harbour.get('/api/kit').expect(200)).body.notes).toEqual([]);
  });

  test('and all that they need come as one kit, for when there is no network', async () => {
    const note = {
      id: factId(630),
      session: null,
      at: new Date().toISOString(),
      observer: 'coach',
      person: 'ada',
      why: 'pain',
      regions: ['neck'],
      side: null,
      until: '2099-01-01',
      words: 'stiff',
      replaces: null,
    };
    await answers(hill, { notes: [note] });
    const { body } = await hill.get('/api/kit').expect(200);
    expect(
      body.techniques.map(({ breakdown: one }: { breakdown: { edition: number } }) => one.edition),
    ).toEqual([1]);
    expect(body.students.map(({ id }: { id: string }) => id)).toContain('ada');
    expect(body.notes).toEqual([note]);
    expect(body.sessions.map(({ id }: { id: string }) => id)).toContain(session.id);
  });

  test('with strangers, or somebody in two pairs, are refused', async () => {
    const put = (pairs: string[][]) => hill.put(`/api/sessions/${session.id}`).send({ ...session, pairs });
    expect((await put([['ada', 'nobody-here']]).expect(400)).body.error).toMatch(/nobody-here/);
    expect(
      (
        await put([
          ['ada', 'ben'],
          ['ada', 'cleo'],
        ]).expect(400)
      ).body.error,
    ).toMatch(/two pairs/);
  });
});

describe('reps as CSV', () => {
  test('come back exactly, and a file read twice counts once', async () => {
    const { text } = await hill
      .get('/api/export/reps.csv')
      .expect(200)
      .expect('content-type', /text\/csv/);
    const rows = text.trim().split('\r\n').length - 1;
    expect(rows).toBeGreaterThan(40);
    const again = await hill.post('/api/import/reps').set('content-type', 'text/csv').send(text).expect(200);
    expect(again.body).toEqual({
      accepted: [],
      known: rows,
      refused: [],
      refusedRows: 0,
      odd: [],
      strangers: [],
      brings: null,
    });
  });

  test('of another academy ask who the observers are', async () => {
    const file = [
      'at,technique,student,side,rung,outcome,observer',
      '2026-03-04T19:00:00Z,Test lock,Ada,right,2,finished,Wrenlow',
      '2026-03-04T19:01:00Z,Test lock,Ada,right,2,finished,Ottis',
      '2026-03-04T19:02:00Z,Test lock,Ada,right,2,finished,Wrenlow',
    ].join('\n');
    const look = (observers?: string) =>
      hill
        .post('/api/import/reps')
        .query({ look: 'yes', ...(observers !== undefined && { observers }) })
        .type('text/csv')
        .send(file);
    const asked = await look().expect(200);
    expect(asked.body).toMatchObject({ accepted: [], refusedRows: 3, strangers: ['Wrenlow', 'Ottis'] });
    const told = await look(JSON.stringify({ Wrenlow: 'coach' })).expect(200);
    expect(told.body).toMatchObject({ refusedRows: 1, strangers: ['Ottis'] });
    expect(told.body.accepted).toHaveLength(2);
    await look('Wrenlow').expect(400);
  });

  test('with bad rows are read as far as they are good', async () => {
    const file = [
      'at,technique,student,partner,side,rung,outcome,stop,observer',
      '2026-03-05T19:00:00+01:00,Test lock,Ada,Ben,right,2,stopped,c2,Coach',
      '2026-03-05T19:00:00+01:00,Test lock,Zed,Ben,right,2,stopped,c2,Coach',
      '2026-03-05T19:00:00+01:00,Test lock,Ada,Ben,middle,2,stopped,c7,Coach',
    ].join('\n');
    const read = (query = '') =>
      hill.post(`/api/import/reps${query}`).set('content-type', 'text/csv').send(file).expect(200);
    const reps = async () => (await hill.get('/api/export/reps.csv').expect(200)).text.split('\r\n').length;
    const before = await reps();
    // A look tells what would be kept, and keeps nothing.
    const look = await read('?look=yes');
    expect(look.body.brings).toEqual({
      of: [{ student: 'ada', technique: 'test-lock', reps: 1 }],
      from: '2026-03-05T18:00:00.000Z',
      until: '2026-03-05T18:00:00.000Z',
    });
    expect(await reps()).toBe(before);
    const { body } = await read();
    expect(body).toEqual(look.body);
    expect(body.accepted).toHaveLength(1);
    expect(
      body.refused.map(({ line, column }: { line: number; column: string }) => `${line} ${column}`),
    ).toEqual(['3 student', '4 side']);
    expect((await read()).body).toMatchObject({ accepted: [], known: 1 });
    // Taken back with the whole import, the file can be read again, and once more; a rep that was wrong stays away.
    for (const [n, ofImport] of [true, true, false].entries()) {
      const [rep] = (await read()).body.accepted.concat(body.accepted);
      const undo = {
        id: factId(88_000 + n),
        rep,
        at: '2026-03-06T10:00:00.000Z',
        observer: 'coach',
        ofImport,
      };
      await hill
        .post('/api/reps')
        .send({ voids: [undo] })
        .expect(200);
      expect(await reps()).toBe(before);
      const again = (await read()).body;
      expect([again.accepted.length, again.known]).toEqual(ofImport ? [1, 0] : [0, 1]);
      expect(again.accepted).not.toContain(rep);
      body.accepted = again.accepted;
    }
  });
});

describe('the contract', () => {
  test('is told as OpenAPI, every path of it', async () => {
    const { body } = await supertest(app).get('/api/openapi.json').expect(200);
    expect(body.openapi).toBe('3.0.3');
    for (const { method, path } of Object.values(endpoints))
      expect(body.paths[path.replace(/:(\w+)/g, '{$1}')][method].summary).toBeTruthy();
  });

  test('answers an address that does not exist with where to look', async () => {
    const { body } = await hill.get('/api/nothing').expect(404);
    expect(body.todo).toMatch(/openapi/);
  });

  test('has nothing at a cut-off link, and tells a writer what is wrong with the address', async () => {
    const cut = `/api/sessions/${factId(1).slice(0, -3)}`;
    const { body } = await hill.get(cut).expect(404);
    expect(body).toEqual({
      error: 'There is nothing at this address.',
      todo: expect.stringContaining('from its list'),
    });
    expect((await hill.put(cut).send({}).expect(400)).body.error).toMatch(/address.*UUID/);
  });
});
