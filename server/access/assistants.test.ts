import { afterAll, beforeAll, expect, test } from '@jest/globals';
import supertest from 'supertest';
import { uuidv7 } from 'uuidv7';
import { aRep } from '../../core/test';
import { createServer } from '..';
import { anAcademy, settingsOf, signedIn } from '../test/academy';
import { freshDatabase } from '../test/database';

let database: Awaited<ReturnType<typeof freshDatabase>>;
let head: Awaited<ReturnType<typeof signedIn>>;
let assistant: Awaited<ReturnType<typeof signedIn>>;
let own: string;

beforeAll(async () => {
  database = await freshDatabase();
  await anAcademy(database.db, 'hill');
  const app = createServer(database.db, settingsOf(database.db));
  head = await signedIn(app, 'hill');
  const invited = await head.post('/api/invitations').send({ role: 'assistant', name: 'Ash' }).expect(200);
  const { secret } = invited.body as { secret: string };
  assistant = supertest.agent(app);
  const came = await assistant
    .post('/api/invitations/accept')
    .send({ secret, name: 'Ash', email: 'ash@hill.example', password: 'heron lantern sixty-one' })
    .expect(200);
  own = (came.body as { coach: { id: string } }).coach.id;
});
afterAll(() => database.drop());

const answers = async (who: typeof head, batch: object) =>
  (
    (await who.post('/api/reps').send(batch).expect(200)).body as {
      items: { answer: string; reason?: string }[];
    }
  ).items;
const at = '2026-03-05T18:00:00Z';
const rep = (observer: string) =>
  aRep({ id: uuidv7(), observer, student: 'ada', partner: 'ben', technique: 'test-lock' });
const undo = (of: { id: string }, observer: string, more = {}) => ({
  voids: [{ id: uuidv7(), rep: of.id, at, observer, ...more }],
});

test('an assistant sees no guardian and no day of birth, and the house’s rules of age still hold', async () => {
  const born = '2012-07-30';
  const { body: students } = await head.get('/api/students').expect(200);
  const ada = (students as { students: { id: string }[] }).students.find(({ id }) => id === 'ada')!;
  const guardian = { name: 'Ife', contact: 'at the desk' };
  await head
    .put('/api/students/ada')
    .send({ ...ada, born, guardian })
    .expect(200);
  for (const path of ['/api/students', '/api/kit']) {
    const told = (await assistant.get(path).expect(200)).text;
    expect(told).not.toContain(born);
    expect(told).not.toContain('Ife');
    const [seen] = (JSON.parse(told) as { students: { id: string; born: string }[] }).students.filter(
      ({ id }) => id === 'ada',
    );
    expect(seen!.born).toMatch(/^20\d\d-\d\d-\d\d$/);
  }
  expect((await head.get('/api/students').expect(200)).text).toContain(born);
});

test('an assistant undoes only reps of their own, and brings their own back when a coach has undone one', async () => {
  const [theirs, mine] = [rep('coach'), rep(own)];
  await answers(head, { reps: [theirs] });
  await answers(assistant, { reps: [mine] });
  const [refused] = await answers(assistant, undo(theirs, own));
  expect(refused).toMatchObject({
    answer: 'refused',
    reason: expect.stringContaining('only they or a coach'),
  });
  expect(await answers(assistant, undo(mine, own))).toMatchObject([{ answer: 'accepted' }]);
  expect(await answers(head, undo(mine, 'coach'))).toMatchObject([{ answer: 'accepted' }]);
  expect(await answers(assistant, undo(mine, own, { restores: true }))).toMatchObject([
    { answer: 'accepted' },
  ]);
});

test('an assistant notes a stop for safety, and lifts none of a coach', async () => {
  const note = (observer: string, more = {}) => ({
    id: uuidv7(),
    session: null,
    at,
    observer,
    person: 'ben',
    why: 'pain',
    regions: ['knee'],
    side: 'left',
    until: '2026-04-01',
    words: 'on the turn',
    replaces: null,
    ...more,
  });
  const [coachs, mine] = [note('coach'), note(own)];
  expect(await answers(head, { notes: [coachs] })).toMatchObject([{ answer: 'accepted' }]);
  expect(await answers(assistant, { notes: [mine] })).toMatchObject([{ answer: 'accepted' }]);
  const lift = (id: string) => ({ notes: [note(own, { regions: [], replaces: id })] });
  expect(await answers(assistant, lift(coachs.id))).toMatchObject([{ answer: 'refused' }]);
  expect(await answers(assistant, lift(mine.id))).toMatchObject([{ answer: 'accepted' }]);
  expect(await answers(head, { notes: [note('coach', { regions: [], replaces: coachs.id })] })).toMatchObject(
    [{ answer: 'accepted' }],
  );
});
