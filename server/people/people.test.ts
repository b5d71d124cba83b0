import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { newStudent } from '@ulkret/core/people';
import { aRep, factId, someTerms, aSession } from '../../core/test';
import { createServer } from '..';
import { Keeper } from '../keeping/keeper';
import { newHouseKey } from '../keeping/sealed';
import { keepErased } from '../keeping/tombstones';
import { anAcademy, aStudent, settingsOf, signedIn } from '../test/academy';
import { freshDatabase } from '../test/database';
import { stopTheClock } from '../test/clock';

let database: Awaited<ReturnType<typeof freshDatabase>>;
let hill: Awaited<ReturnType<typeof signedIn>>;

stopTheClock();

beforeAll(async () => {
  database = await freshDatabase();
  await anAcademy(database.db, 'hill');
  hill = await signedIn(createServer(database.db, settingsOf(database.db)), 'hill');
});
afterAll(() => database.drop());

const put = (id: string, fields: object) =>
  hill.put(`/api/students/${id}`).send({ ...aStudent(id), ...fields });

test('two people of one name are told apart: the second one is asked about, whatever its capitals', async () => {
  await put('mo-1', { name: 'Mo Tan', namesake: false }).expect(200);
  const refused = await put('mo-2', { name: ' mo TAN', namesake: false }).expect(409);
  expect(refused.body.error).toBe('Mo Tan is already on the roster.');
  await put('mo-2', { name: ' mo TAN', namesake: true }).expect(200);
  // Who is already here is changed without being asked again, and who is archived is in nobody's way.
  await put('mo-2', { name: 'mo tan', massKg: 71 }).expect(200);
  await put('mo-1', { name: 'Mo Tan', archived: true }).expect(200);
  await put('mo-2', { name: 'Mo Tan II' }).expect(200);
  await put('mo-3', { name: 'Mo Tan' }).expect(200);
});

test('keeps of each measure when it was taken and by whom, and of those that did not change what was known', async () => {
  const first = (await put('sal', { name: 'Sal', statureCm: 170 }).expect(200)).body;
  const on = new Date().toISOString().slice(0, 10);
  expect(first.measured.statureCm).toMatchObject({ on });
  expect(first.measured.legLengthCm).toBeUndefined();
  // What a device says of it counts for nothing.
  const forged = { statureCm: { on: '2020-01-01', by: 'somebody else' } };
  const second = (await put('sal', { ...first, massKg: 66, measured: forged }).expect(200)).body;
  expect(second.measured).toMatchObject({ statureCm: first.measured.statureCm, massKg: { on } });
  const third = (await put('sal', { ...second, statureCm: null }).expect(200)).body;
  expect(third.measured.statureCm).toBeUndefined();
});

test('an injury and a guardian are kept, and a list too long is refused', async () => {
  const injuries = [
    { region: 'knee', side: 'left', since: '2026-03-01', until: '2026-04-01', note: 'no turning' },
  ];
  const guardian = { name: 'Ife', contact: 'at the desk' };
  const { body } = await put('kim', { name: 'Kim', injuries, guardian }).expect(200);
  expect(body).toMatchObject({ injuries, guardian });
  await put('kim', { injuries: Array.from({ length: 31 }, () => injuries[0]) }).expect(400);
  await put('kim', { guardian: { name: '', contact: '' } }).expect(400);
  // A roster of before it said so is read anyway.
  expect(newStudent({ id: 'old' })).toMatchObject({ guardian: null, measured: {} });
});

test('who is archived left on that day, and who comes back is here', async () => {
  const today = new Date().toISOString().slice(0, 10);
  await put('ivo', { name: 'Ivo' }).expect(200);
  const left = (await put('ivo', { name: 'Ivo', archived: true }).expect(200)).body;
  expect(left.archivedOn).toBe(today);
  // A device says who left, and the server when.
  const { body } = await put('ivo', { ...left, massKg: 70, archivedOn: '2020-01-01' }).expect(200);
  expect(body).toMatchObject({ archivedOn: today, massKg: 70 });
  expect((await put('ivo', { name: 'Ivo', archived: false }).expect(200)).body.archivedOn).toBeNull();
});

/** The tables that mention a word anywhere, in a column or in JSON. */
async function tablesWith(word: string): Promise<string[]> {
  const { rows } = await database.pool.query<{ name: string }>(
    `select tablename as name from pg_tables where schemaname = 'public' order by 1`,
  );
  const found: string[] = [];
  for (const { name } of rows) {
    const held = await database.pool.query(`select 1 from "${name}" t where t::text like $1 limit 1`, [
      `%${word}%`,
    ]);
    if (held.rows.length > 0) found.push(name);
  }
  return found;
}

test('all that is kept about a person is told to them, and erased for good: from every table and backup, and the others stay as they were', async () => {
  const folder = await mkdtemp(path.join(os.tmpdir(), 'ulkret-erase-'));
  const keeper = new Keeper(
    { url: database.owner, bin: process.env['TEST_PG_BIN'] ?? '' },
    folder,
    'test',
    1000,
    null,
    await newHouseKey(),
  );
  const head = await signedIn(createServer(database.db, settingsOf(database.db, { keeper })), 'hill');
  await keeper.make();
  // A name that occurs nowhere else, and an id that is part of another one's.
  await put('wrenlow', { name: 'Wrenlow Pike', massKg: 70, injuries: [] }).expect(200);
  await put('wrenlow-2', { name: 'Another', massKg: 71 }).expect(200);
  const session = factId(700);
  const at = new Date(Date.now() - 7_200_000).toISOString();
  await head
    .put(`/api/sessions/${session}`)
    .send(
      aSession({
        id: session,
        startedAt: at,
        pairs: [
          ['wrenlow', 'ada'],
          ['wrenlow-2', 'ben'],
        ],
        prescribed: [{ student: 'wrenlow', checkpoint: 'c2', rung: 2, cue: 'Elbow, Wrenlow' }],
      }),
    )
    .expect(200);
  const told = (n: number) => ({ id: factId(n), session, at, observer: 'coach' });
  const terms = { ...someTerms, checkpoint: 'c2', mistake: null, cue: 'Wrenlow: elbow first' };
  const { items } = (
    await head
      .post('/api/reps')
      .send({
        reps: [
          aRep({ ...told(701), student: 'wrenlow', partner: 'ada', stop: 'c2', note: 'Wrenlow was tired' }),
          aRep({ ...told(702), student: 'ada', partner: 'wrenlow' }),
          aRep({ ...told(703), student: 'wrenlow-2', partner: 'ben', note: 'kept' }),
        ],
        tags: [
          { id: factId(704), rep: factId(701), cause: null, words: 'Wrenlow slips', at, observer: 'coach' },
        ],
        notes: [
          {
            ...told(705),
            person: 'wrenlow',
            why: 'pain',
            regions: ['knee'],
            side: null,
            until: at.slice(0, 10),
            words: 'Wrenlow’s knee',
            replaces: null,
          },
        ],
        overrides: [
          {
            ...told(706),
            student: 'wrenlow',
            partner: 'ada',
            technique: 'test-lock',
            reason: 'Wrenlow asked for it',
          },
        ],
        changes: [
          { ...told(707), set: { is: 'words', about: 'wrenlow', words: 'Wrenlow was sharp' } },
          {
            ...told(708),
            set: {
              is: 'pairs',
              pairs: [
                ['ada', 'wrenlow'],
                ['ben', 'wrenlow-2'],
              ],
            },
          },
        ],
        steps: [
          {
            ...told(709),
            student: 'wrenlow',
            technique: 'test-lock',
            edition: 1,
            does: { is: 'accepted', terms, stood: null },
          },
          {
            ...told(710),
            student: 'wrenlow',
            technique: 'test-lock',
            edition: 1,
            does: { is: 'declined', checkpoint: 'c3', reason: 'Wrenlow does not want to' },
          },
        ],
      })
      .expect(200)
  ).body as { items: { answer: string; reason?: string }[] };
  expect(items.filter(({ answer }) => answer !== 'accepted')).toEqual([]);
  await head.post('/api/students/wrenlow/cards').send({ days: 30 }).expect(200);
  await head
    .put(`/api/students/wrenlow/notes/${factId(720)}`)
    .send({ words: 'Wrenlow is shy', seenBy: 'coaches' })
    .expect(200);
  await head
    .post('/api/invitations')
    .send({ role: 'student', name: 'Wrenlow Pike', student: 'wrenlow' })
    .expect(200);
  await keeper.make();

  const all = (await head.get('/api/students/wrenlow/everything').expect(200)).body;
  expect(all).toMatchObject({
    format: 'ulkret.person/2',
    student: { name: 'Wrenlow Pike' },
    sessions: [{ id: session }],
    facts: {
      reps: [{}, {}],
      tags: [{}],
      notes: [{}],
      overrides: [{}],
      steps: [{}, {}],
      changes: [{ set: { words: 'Wrenlow was sharp' } }],
    },
    notes: [{ words: 'Wrenlow is shy', seenBy: 'coaches' }],
    links: [{}],
  });
  const others = async () => {
    const { body } = await head
      .get('/api/rates?technique=test-lock&student=ada&weeks=0&method=plain')
      .expect(200);
    expect(JSON.stringify(body.students)).toContain('ada');
    return [body.squad, body.students];
  };
  const before = await others();
  // A row that no schema reads mentions them too.
  await database.pool.query(
    `insert into reps select (jsonb_populate_record(r, $1)).* from reps r where id = $2`,
    [{ id: factId(712), at: '0026-03-05T18:30:00Z', note: 'Wrenlow of old' }, factId(701)],
  );

  const erased = (await head.delete('/api/students/wrenlow').expect(200)).body;
  expect(erased).toEqual({ reps: 2, backups: 'remade' });
  // Asked again it says how far it is; a form that was open all the time brings nobody back.
  expect((await head.delete('/api/students/wrenlow').expect(200)).body).toEqual(erased);
  const stale = await head
    .put('/api/students/wrenlow')
    .send(aStudent('wrenlow', { name: 'Wrenlow Pike' }))
    .expect(409);
  expect(stale.body.error).toBe('This person was erased.');
  // An older database that is restored brings them back; a list next to the key of the house does not let it.
  const list = path.join(folder, 'erased.json');
  expect(await keepErased(database.db, [], [list])).toBe(0);
  expect(await readFile(list, 'utf8')).not.toContain('wrenlow');
  await database.pool.query(
    `insert into students select academy_id, 'wrenlow', name, student from students where id = 'ben'`,
  );
  await database.pool.query('delete from erasures');
  expect(await keepErased(database.db, [list], [list])).toBe(1);
  expect((await head.get('/api/students').expect(200)).text).not.toContain('"wrenlow"');
  expect(await tablesWith('Wrenlow')).toEqual([]);
  expect(await tablesWith('"wrenlow"')).toEqual([]);
  expect((await tablesWith('wrenlow')).length).toBeGreaterThan(0);
  for (const whose of [
    `reps where student = 'wrenlow' or partner = 'wrenlow'`,
    `accesses where about = 'wrenlow'`,
  ]) {
    const left = await database.pool.query(`select count(*)::int as n from ${whose}`);
    expect([whose, left.rows]).toEqual([whose, [{ n: 0 }]]);
  }
  expect(await keeper.backups()).toHaveLength(1);
  // The others are as they were: their reps with somebody, and what was noted of them.
  expect(await others()).toEqual(before);
  const facts = (await head.get('/api/export/facts.json')).body as {
    reps: { id: string; note: string; partner: string }[];
  };
  expect(facts.reps.find(({ id }) => id === factId(702))!.partner).toMatch(/^x-/);
  expect(facts.reps.find(({ id }) => id === factId(703))!.note).toBe('kept');
  await head.get(`/api/sessions/${session}`).expect(200);
  await head.get('/api/students/wrenlow/everything').expect(404);
  await head.delete('/api/students/nobody').expect(404);
  // What another device still sends about them finds nobody.
  const late = await head
    .post('/api/reps')
    .send({ reps: [aRep({ ...told(711), student: 'wrenlow', partner: null })] });
  expect(late.body.items[0]).toMatchObject({
    answer: 'refused',
    reason: expect.stringMatching(/not on the roster/),
  });
  await keeper.close();
  await rm(folder, { recursive: true, force: true });
});

test('all about a person can be read as a page, on which nothing that was typed is markup, and no partner is named', async () => {
  const hook = '<img src=x onerror=alert(1)> & "so"';
  const injuries = [{ region: 'knee', side: 'left', since: null, until: '2026-04-01', note: hook }];
  await put('uma', { name: `Uma ${hook}`.slice(0, 60), injuries }).expect(200);
  const at = '2026-03-05T18:30:00.000Z';
  const rep = { id: factId(801), at, student: 'uma', partner: 'ben', note: hook };
  await hill
    .post('/api/reps')
    .send({ reps: [aRep({ ...rep, outcome: 'stopped', stop: 'c2' }), aRep({ ...rep, id: factId(802) })] })
    .expect(200);
  const page = await hill.get('/api/students/uma/everything.html').expect(200);
  expect(page.headers['content-type']).toMatch(/^text\/html/);
  expect(page.headers['content-disposition']).toContain('uma.html');
  expect(page.text).not.toContain('<img');
  expect(page.text).toContain('&lt;img src=x onerror=alert(1)&gt; &amp; &quot;so&quot;');
  expect(page.text).toContain('stopped at “Point 2”');
  expect(page.text).toContain('2026-03-05 18:30');
  expect(page.text).not.toMatch(/\bben\b/i);
  await hill.get('/api/students/nobody/everything.html').expect(404);
});

test('the classes that somebody was in are those in which they were paired or have a rep, and voids count for nothing', async () => {
  await put('vic', { name: 'Vic' }).expect(200);
  const setUp = (n: number, pairs: [string, string][]) =>
    aSession({ id: factId(820 + n), startedAt: `2026-03-0${n}T18:00:00.000Z`, pairs });
  const classes = [setUp(1, [['vic', 'ben']]), setUp(2, [['ada', 'ben']]), setUp(3, [['ada', 'ben']])];
  for (const one of classes) await hill.put(`/api/sessions/${one.id}`).send(one).expect(200);
  const rep = (n: number, fields: object) =>
    aRep({ id: factId(840 + n), at: '2026-03-02T18:10:00.000Z', student: 'vic', partner: 'ben', ...fields });
  const reps = [
    rep(0, { session: classes[1]!.id }),
    rep(1, { session: classes[1]!.id }),
    rep(2, { session: classes[1]!.id, student: 'ben', partner: 'vic' }),
    rep(3, { session: classes[2]!.id }),
    rep(4, { session: null }),
  ];
  const at = '2026-03-03T18:00:00.000Z';
  const gone = { id: factId(850), rep: reps[3]!.id, at, observer: 'coach' };
  await hill
    .post('/api/reps')
    .send({ reps, voids: [gone] })
    .expect(200);
  const { body } = await hill.get('/api/students/vic/attendance').expect(200);
  expect(body).toEqual({
    sessions: [
      {
        id: classes[1]!.id,
        startedAt: classes[1]!.startedAt,
        technique: 'test-lock',
        attacked: 2,
        partnered: 1,
      },
      {
        id: classes[0]!.id,
        startedAt: classes[0]!.startedAt,
        technique: 'test-lock',
        attacked: 0,
        partnered: 0,
      },
    ],
    repsWithoutSession: 1,
  });
  await hill.get('/api/students/nobody-here/attendance').expect(404);
});

test('somebody who is on the roster twice becomes one, with all that was noted of either; two who met are two', async () => {
  await put('zoe', { name: 'Zoe', massKg: 61, experienceMonths: 3 }).expect(200);
  const injuries = [{ region: 'knee', side: 'left', since: null, until: '2026-04-01', note: '' }];
  await put('zoe-2', { name: 'Zoé', massKg: 80, statureCm: 170, experienceMonths: 9, injuries }).expect(200);
  const at = '2026-03-05T18:30:00.000Z';
  const told = (n: number, fields: object) => ({ id: factId(n), at, observer: 'coach', ...fields });
  await hill
    .post('/api/reps')
    .send({
      reps: [
        aRep({ ...told(861, {}), student: 'zoe', partner: 'ada' }),
        aRep({ ...told(862, {}), student: 'zoe-2', partner: 'ada' }),
        aRep({ ...told(863, {}), student: 'ada', partner: 'zoe-2' }),
      ],
      notes: [
        told(864, {
          session: factId(865),
          person: 'zoe-2',
          why: 'pain',
          regions: ['knee'],
          side: 'left',
          until: '2099-01-01',
          words: '',
          replaces: null,
        }),
      ],
    })
    .expect(200);
  const rates = async (student: string) =>
    (await hill.get(`/api/rates?technique=test-lock&student=${student}&weeks=0&method=plain`).expect(200))
      .body.students as { reps: number }[];
  expect([(await rates('zoe'))[0]!.reps, (await rates('zoe-2'))[0]!.reps]).toEqual([1, 1]);
  await hill.post('/api/students/zoe-2/merge').send({ into: 'zoe-2' }).expect(404);
  await hill.post('/api/students/zoe-2/merge').send({ into: 'nobody' }).expect(404);
  const { body } = await hill.post('/api/students/zoe-2/merge').send({ into: 'zoe' }).expect(200);
  expect(body).toMatchObject({
    id: 'zoe',
    name: 'Zoe',
    massKg: 61,
    statureCm: 170,
    experienceMonths: 9,
    injuries,
  });
  expect((await rates('zoe'))[0]!.reps).toBe(2);
  expect(await rates('zoe-2')).toEqual([]);
  const kit = (await hill.get('/api/kit').expect(200)).body as {
    students: { id: string }[];
    notes: { id: string; person: string }[];
  };
  expect(kit.students.map(({ id }) => id)).not.toContain('zoe-2');
  expect(kit.notes.find(({ id }) => id === factId(864))!.person).toBe('zoe');
  await hill.post('/api/students/ada/merge').send({ into: 'zoe' }).expect(409);
});
