import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { SetAside } from '@ulkret/contract';
import { newStudent, type Student } from '@ulkret/core/people';
import type { Express } from 'express';
import supertest from 'supertest';
import { aRep, factId } from '../core/test';
import { markAllStale } from './signals/stale';
import { anAcademy, settingsOf, signedIn } from './test/academy';
import { freshDatabase } from './test/database';
import { createServer } from '.';

/** Facts, characters and bodies that once stopped an academy, a device or the server: each is refused or cleaned, and costs nobody else. */

let database: Awaited<ReturnType<typeof freshDatabase>>;
let app: Express;
let hill: Awaited<ReturnType<typeof signedIn>>;
beforeAll(async () => {
  database = await freshDatabase();
  app = createServer(database.db, settingsOf(database.db));
  await anAcademy(database.db, 'hill');
  hill = await signedIn(app, 'hill');
});
afterAll(() => database.drop());

let n = 9000;
const session = factId(n++);
const rep = (fields: object = {}) => ({
  ...aRep({ id: factId(n++), at: '2026-03-05T18:30:00.000Z' }),
  ...fields,
});
const about = (fields: object = {}) => ({
  id: factId(n++),
  session,
  at: '2026-03-05T18:30:00.000Z',
  observer: 'coach',
  ...fields,
});
const note = (fields: object = {}) =>
  about({
    person: 'ada',
    why: 'pain',
    regions: ['knee'],
    side: null,
    until: '2026-03-06',
    words: '',
    replaces: null,
    ...fields,
  });

const send = async (batch: object) =>
  (
    (await hill.post('/api/reps').send(batch).expect(200)).body as {
      items: { answer: string; reason?: string }[];
    }
  ).items;

/** All that reads facts still answers. */
async function allAnswers(): Promise<void> {
  for (const path of [
    '/api/kit',
    '/api/tallies',
    '/api/sessions',
    '/api/readings?technique=test-lock',
    '/api/reps?technique=test-lock&checkpoint=c1',
    '/api/choices?technique=test-lock',
    '/api/agreement?technique=test-lock',
    '/api/export/reps.csv',
    '/api/export/facts.json',
  ])
    expect([path, (await hill.get(path)).status]).toEqual([path, 200]);
}

describe('a moment that no class can have been in', () => {
  test.each([
    '0026-03-05T18:30:00.000Z',
    '1999-12-31T23:59:59.000Z',
    '9999-12-31T00:00:00.000Z',
    '9999-12-31T23:59:59.999-14:00',
    '2099-03-05T18:30:00.000Z',
  ])('%s is refused at every entry, and the good one next to it is kept', async (at) => {
    const items = await send({
      reps: [rep({ at }), rep()],
      notes: [note({ at }), note({ until: at.startsWith('9999') ? '9999-12-31' : '0026-01-01' })],
      changes: [about({ at, set: { is: 'end' } })],
    });
    const answers = items.map(({ answer }) => answer);
    expect(answers[1]).toBe('accepted');
    expect([answers[0], answers[2], answers[3], answers[4]]).toEqual(Array(4).fill('refused'));
    expect(items[0]!.reason).toMatch(/^at: /);
    await allAnswers();
  });

  test('in a file, a session or a person is told by its name', async () => {
    const csv = 'at,technique,student,side,rung,outcome\n0026-03-05T18:30:00Z,test-lock,ada,right,2,finished';
    const { body } = await hill.post('/api/import/reps').type('text/csv').send(csv).expect(200);
    expect((body as { accepted: unknown[] }).accepted).toEqual([]);
    const old = newStudent({ id: 'old', name: 'Old', born: '0026-01-01' });
    await hill.put('/api/students/old').send(old).expect(400);
    await allAnswers();
  });
});

describe('what an earlier release has taken and nobody can read', () => {
  const ancient = ['0026-03-05T18:30:00Z', '9999-12-31T23:00:00Z', 'infinity', '0044-03-15 00:00:00+00 BC'];

  test('is set aside, told with its reason, and breaks nothing; a void of it is taken', async () => {
    const good = rep();
    const odd = ancient.map((at) => ({ ...rep(), at }));
    await send({ reps: [good, ...odd.map((one) => ({ ...one, at: good.at }))] });
    for (const { id, at } of odd)
      await database.pool.query("update reps set at = $1 where academy_id = 'hill' and id = $2", [at, id]);
    const told = note();
    await send({ notes: [told] });
    await database.pool.query(
      "update care_notes set at = '0026-01-01', until = '0026-01-01' where academy_id = 'hill' and id = $1",
      [told.id],
    );
    const strange = { id: factId(n++), startedAt: '0026-03-05T18:30:00.000Z', pairs: [] };
    await database.pool.query(
      'insert into sessions (academy_id, id, technique_id, started_at, session) values ($1, $2, $3, $4, $5)',
      ['hill', strange.id, 'test-lock', strange.startedAt, strange],
    );
    const injury = { region: 'knee', side: 'left', until: '9999-12-31', note: '' };
    const old = newStudent({ id: 'elder', name: 'Elder', born: '0026-01-01', injuries: [injury] as never });
    await database.pool.query(
      "insert into students (academy_id, id, name, student) values ('hill', 'elder', 'Elder', $1)",
      [old],
    );
    await markAllStale(database.db, 'hill');
    await allAnswers();

    const aside = async () =>
      (await hill.get('/api/set-aside').expect(200)).body as { n: number; items: SetAside[] };
    const { items, n: all } = await aside();
    expect(all).toBe(items.length);
    expect(items.map(({ is, id }) => `${is} ${id}`).sort()).toEqual(
      [
        ...odd.map(({ id }) => `rep ${id}`),
        `note ${told.id}`,
        `session ${strange.id}`,
        'student elder',
      ].sort(),
    );
    expect(items.find(({ is }) => is === 'rep')!.reason).toMatch(/^at: /);
    // The person is here, without a birthday, and the injury holds.
    const { students } = (await hill.get('/api/students')).body as { students: Student[] };
    expect(students.find(({ id }) => id === 'elder')).toMatchObject({
      born: null,
      injuries: [{ region: 'knee', until: '2099-12-31' }],
    });
    const csv = (await hill.get('/api/export/reps.csv').expect(200)).text;
    expect(csv).toContain(good.id);
    for (const { id } of odd) expect(csv).not.toContain(id);
    const whole = (await hill.get('/api/export/facts.json').expect(200)).body as { setAside: SetAside[] };
    expect(whole.setAside).toHaveLength(items.length);

    const voids = odd.map(({ id }) => about({ rep: id, session: undefined }));
    const answers = await send({ voids });
    expect(answers.map(({ answer }) => answer)).toEqual(odd.map(() => 'accepted'));
    await allAnswers();
    expect((await aside()).n).toBe(all - odd.length);
  });
});

describe('odd text', () => {
  test('is cleaned where it comes in, and costs no other item', async () => {
    const items = await send({
      reps: [rep({ note: 'a\u0000b \ud800 c' }), rep({ note: 'plain 🥋' })],
      notes: [note({ words: '\udfff' })],
    });
    expect(items.map(({ answer }) => answer)).toEqual(['accepted', 'accepted', 'accepted']);
    const csv = (await hill.get('/api/export/reps.csv').expect(200)).text;
    expect(csv).toContain('ab \ufffd c');
    expect(csv).toContain('plain 🥋');
    const student = newStudent({ id: 'nul', name: 'Nul\u0000 Half\ud83d' });
    const { body } = await hill.put('/api/students/nul').send(student).expect(200);
    expect(body).toMatchObject({ name: 'Nul Half\ufffd' });
  });

  test('where an id or a number should be is refused on its own', async () => {
    const deep = `${'['.repeat(500)}1${']'.repeat(500)}`;
    const body = `{"reps":[{"id":{"toString":1}},{"id":${deep}},7,null,${JSON.stringify(rep())},${JSON.stringify(
      rep({ edition: 3_000_000_000 }),
    )}]}`;
    const { items } = (
      await hill.post('/api/reps').set('content-type', 'application/json').send(body).expect(200)
    ).body as { items: { answer: string }[] };
    expect(items.map(({ answer }) => answer)).toEqual([
      'refused',
      'refused',
      'refused',
      'refused',
      'accepted',
      'refused',
    ]);
    await allAnswers();
  });

  test('that every object knows is an ordinary id', async () => {
    const person = newStudent({ id: 'constructor', name: 'Constance' });
    await hill.put('/api/students/constructor').send(person).expect(200);
    const [item] = await send({
      reps: [rep({ student: 'constructor', partner: 'ada', outcome: 'finished' })],
    });
    expect(item!.answer).toBe('accepted');
    const { body } = await hill.get('/api/readings?technique=test-lock&method=plain').expect(200);
    const read = (body as { students: { reading: { student: string; reps: number } }[] }).students;
    expect(read.find(({ reading }) => reading.student === 'constructor')!.reading.reps).toBe(1);
  });
});

describe('a person whom two coaches change', () => {
  test('keeps what each has changed; the same changed twice is told, and nothing is lost', async () => {
    const base = newStudent({ id: 'cleo', name: 'Cleo', experienceMonths: 12 });
    const put = (change: object) => hill.put('/api/students/cleo').send({ ...base, ...change, base });
    const injury = { region: 'knee', side: 'left', until: '2026-12-01', note: '' };
    await put({ injuries: [injury] }).expect(200);
    const { body } = await put({ massKg: 62 }).expect(200);
    expect(body).toMatchObject({ massKg: 62, injuries: [injury] });
    expect(body).not.toHaveProperty('base');
    const refused = await put({ massKg: 70, name: 'Cleopatra' }).expect(409);
    expect((refused.body as { error: string }).error).toContain('mass of Cleopatra');
    const { students } = (await hill.get('/api/students')).body as { students: { id: string }[] };
    expect(students.find(({ id }) => id === 'cleo')).toMatchObject({
      name: 'Cleo',
      massKg: 62,
      injuries: [injury],
    });
  });
});

describe('a large body', () => {
  test('of a stranger is not read; of a coach it is', async () => {
    const large = { reps: [], padding: 'x'.repeat(40_000) };
    await supertest(app).post('/api/reps').send(large).expect(401);
    await hill.post('/api/reps').send(large).expect(200);
  });

  test('of too many items is counted before they are read', async () => {
    // Too many for a batch, and too many to be read at all.
    for (const [n, status] of [
      [19_000, 400],
      [200_000, 413],
    ] as const) {
      const refused = await hill
        .post('/api/reps')
        .set('content-type', 'application/json')
        .send(JSON.stringify({ reps: Array(n).fill(1) }))
        .expect(status);
      expect(refused.text.length).toBeLessThan(1000);
    }
  });
});

describe('what cannot be read', () => {
  const sent = (type: string, body: string, headers: Record<string, string> = {}) =>
    hill
      .post('/api/reps')
      .set({ 'content-type': type, ...headers })
      .send(body);
  test.each([
    ['that is no JSON', () => sent('application/json', '{"reps":['), 400, /not valid JSON/],
    [
      'in other characters',
      () => sent('application/json; charset=iso-8859-1', '{}'),
      415,
      /character set is not supported/,
    ],
    [
      'packed otherwise',
      () => sent('application/json', '{}', { 'content-encoding': 'compress' }),
      415,
      /compression is not supported/,
    ],
    ['at an address that is none', () => hill.get('/api/techniques/%E0%A4%A'), 400, /not well-formed/],
    ['at no page', () => hill.put('/'), 404, /nothing at PUT \//],
    ['at no endpoint', () => hill.get('/api/nowhere'), 404, /nothing at \/api\/nowhere/],
  ] as const)('%s is told as what it is, with what to do', async (_, ask, status, words) => {
    const { body } = (await ask().expect(status)) as { body: { error: string; todo: string } };
    expect(body.error).toMatch(words);
    expect(body.todo.length).toBeGreaterThan(5);
  });
});
