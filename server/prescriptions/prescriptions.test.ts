import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { type Drill, shippedDrills } from '@ulkret/core/drills';
import { type Life, livesOf, type Prescription, type Step, termsOf } from '@ulkret/core/prescription';
import { eq } from 'drizzle-orm';
import type { Express } from 'express';
import supertest from 'supertest';
import { aRep, factId, plainBreakdown, someTerms } from '../../core/test';
import { cardLinks } from '../db/schema';
import { createServer } from '../index';
import { anAcademy, settingsOf, signedIn, testTechnique } from '../test/academy';
import { freshDatabase } from '../test/database';

const breakdown = plainBreakdown(5);
const ago = (hours: number) => new Date(Date.now() - hours * 3_600_000).toISOString();
let database: Awaited<ReturnType<typeof freshDatabase>>;
let app: Express;
type Agent = Awaited<ReturnType<typeof signedIn>>;
let cove: Agent;

beforeAll(async () => {
  database = await freshDatabase();
  app = createServer(database.db, settingsOf(database.db));
  await anAcademy(database.db, 'cove');
  cove = await signedIn(app, 'cove');
});
afterAll(() => database.drop());

let made = 0;
const ids = () => factId(60_000 + made++);
const reps = (n: number, hours: number, stop?: string) =>
  Array.from({ length: n }, (_, i) =>
    aRep({ id: ids(), at: ago(hours - i / 60), student: 'ada', partner: 'ben', ...(stop && { stop }) }),
  );
const step = (hours: number, does: Step['does']): Step => ({
  id: ids(),
  session: null,
  at: ago(hours),
  observer: 'coach',
  student: 'ada',
  technique: breakdown.technique,
  edition: 1,
  does,
});
const send = async (batch: object): Promise<string[]> => {
  const { body } = await cove.post('/api/reps').send(batch).expect(200);
  return (body as { items: { answer: string; reason?: string }[] }).items.map(
    ({ answer, reason }) => reason ?? answer,
  );
};
const decided = async (): Promise<Prescription> => {
  const { body } = await cove.get(`/api/decisions?technique=${breakdown.technique}`).expect(200);
  return body.decisions.find(({ student }: { student: string }) => student === 'ada').prescription;
};
const followed = async () => (await cove.get('/api/prescriptions?student=ada').expect(200)).body;

describe('a correction that is followed', () => {
  test('is proposed with a drill and its reason, declined for four weeks, and accepted anyway', async () => {
    const before = [...reps(14, 60, 'c3'), ...reps(6, 58)];
    const others = ['ben', 'cleo'].flatMap((student) =>
      reps(20, 57).map((rep) => ({ ...rep, student, partner: 'ada' })),
    );
    expect(new Set(await send({ reps: [...before, ...others] }))).toEqual(new Set(['accepted']));
    const first = await decided();
    if (first.kind !== 'correct') throw new Error('fourteen of twenty are clear');
    expect(first.checkpoint).toBe('c3');
    expect(shippedDrills.map(({ id }) => id)).toContain(first.drill);
    expect(first.reason.candidates[0]).toMatchObject({ checkpoint: 'c3', lostBy: null });

    const declined = step(50, { is: 'declined', checkpoint: 'c3', reason: 'later this month' });
    expect(await send({ steps: [declined] })).toEqual(['accepted']);
    expect(await decided()).not.toMatchObject({ checkpoint: 'c3' });
    expect((await followed()).declined).toEqual([
      expect.objectContaining({ checkpoint: 'c3', reason: 'later this month', by: 'coach' }),
    ]);

    const terms = { ...termsOf(breakdown, first), rung: 2 as const };
    const accepted = step(40, { is: 'accepted', terms, stood: null });
    // Sent twice, as a device does that never heard the answer: it is one.
    expect(await send({ steps: [accepted] })).toEqual(['accepted']);
    expect(await send({ steps: [accepted] })).toEqual(['known']);
    expect((await followed()).prescriptions).toEqual([
      expect.objectContaining({ life: expect.objectContaining({ id: accepted.id, state: 'accepted' }) }),
    ]);

    // Over two evenings, and what the server tells is what the core makes of the same facts.
    const evenings = [...reps(4, 30), ...reps(5, 6)];
    await send({ reps: evenings });
    const [{ life, worked }] = (await followed()).prescriptions as [{ life: Life; worked: object }];
    expect(life.state).toBe('signed off');
    const { all } = livesOf(
      new Map([[1, breakdown]]),
      [declined, accepted],
      [...before, ...evenings],
      ago(0),
    );
    expect(life.events).toEqual(all[0]!.events);
    expect(worked).toMatchObject({ before: { seen: 20, failed: 14 }, after: { seen: 9, failed: 0 } });
    const { text } = await cove.get('/api/export/prescriptions.csv').expect(200);
    expect(text.split('\r\n')[1]).toContain('signed off');
  });

  test('is refused by name where it cannot be', async () => {
    const terms = { ...someTerms, checkpoint: 'c9' };
    const nowhere = step(1, { is: 'accepted', terms, stood: null });
    expect(await send({ steps: [nowhere] })).toEqual([
      'terms: edition 1 of test-lock has no checkpoint "c9"',
    ]);
    expect(await send({ steps: [{ ...nowhere, id: ids(), student: 'nobody' }] })).toEqual([
      'student: "nobody" is not on the roster',
    ]);
    expect(await send({ steps: [{ ...nowhere, id: ids(), edition: 7 }] })).toEqual([
      'edition: "test-lock" has no edition 7',
    ]);
    const [reason] = await send({
      steps: [step(1, { is: 'declined', checkpoint: 'c3', reason: ' ' })],
    });
    expect(reason).toContain('say in a few words why not');
  });
});

describe('a card under a link', () => {
  const make = async (student = 'ada') =>
    (await cove.post(`/api/students/${student}/cards`).send({ days: 30 }).expect(200)).body as {
      id: string;
      secret: string;
    };
  const open = (secret: string) => supertest(app).post('/api/cards').send({ secret });

  test('opens for anyone with the link, says nothing of anybody else, and dies when it is revoked', async () => {
    const terms = { ...someTerms, checkpoint: 'c2', cue: 'Elbow first.' };
    const own = step(3, { is: 'accepted', terms, stood: null });
    await send({
      steps: [
        own,
        {
          ...step(3, { is: 'accepted', terms: { ...terms, cue: 'A secret of Ben.' }, stood: null }),
          student: 'ben',
        },
      ],
    });
    const link = await make();
    const { text, body } = await open(link.secret).expect(200);
    expect(body).toMatchObject({ name: 'Ada', academy: 'Academy cove' });
    expect(body.works).toContainEqual(
      expect.objectContaining({ technique: testTechnique.name, place: 2, cue: 'Elbow first.' }),
    );
    expect(text).not.toMatch(/Ben|secret|coach|@/);

    const listed = async () => (await cove.get('/api/students/ada/cards').expect(200)).body.links;
    expect(await listed()).toMatchObject([{ id: link.id, madeBy: 'Coach', openedAt: expect.any(String) }]);
    expect(JSON.stringify(await listed())).not.toContain(link.secret.split('.')[1]);
    await cove.delete(`/api/students/ben/cards/${link.id}`).expect(200);
    await open(link.secret).expect(200);
    await cove.delete(`/api/students/ada/cards/${link.id}`).expect(200);
    await open(link.secret).expect(404);
    expect(await listed()).toEqual([]);
  });

  test('expires, and is forgotten when the next one is made', async () => {
    const { id, secret } = await make();
    await database.db
      .update(cardLinks)
      .set({ expiresAt: ago(1) })
      .where(eq(cardLinks.id, id));
    await open(secret).expect(404);
    await make();
    expect(await database.db.select().from(cardLinks).where(eq(cardLinks.id, id))).toEqual([]);
  });

  test('is made only for students on the roster, by signed-in coaches, for one of the offered times', async () => {
    await cove.post('/api/students/nobody/cards').send({ days: 30 }).expect(404);
    await cove.post('/api/students/ada/cards').send({ days: 3650 }).expect(400);
    await supertest(app).post('/api/students/ada/cards').send({ days: 30 }).expect(401);
    for (const odd of ['', 'cove', 'cove.', 'cove.x', '../x.y', 'x'.repeat(300)])
      expect([odd, (await open(odd)).status]).toEqual([odd, odd === '' || odd.length > 200 ? 400 : 404]);
  });
});

describe('the drills library', () => {
  test('is what ships, with what an academy has added, changed or retired', async () => {
    const [shipped] = shippedDrills;
    const own: Drill = { ...shipped!, id: 'own', title: 'Our own' };
    await cove.put('/api/drills/own').send(own).expect(200);
    await cove
      .put(`/api/drills/${shipped!.id}`)
      .send({ ...shipped, retired: true })
      .expect(200);
    const { body } = await cove.get('/api/drills').expect(200);
    expect(body.drills).toHaveLength(shippedDrills.length + 1);
    expect(body.drills).toContainEqual(own);
    expect(body.drills.find(({ id }: Drill) => id === shipped!.id).retired).toBe(true);
    await cove.put('/api/drills/other').send(own).expect(400);
    await cove
      .put('/api/drills/own')
      .send({ ...own, rungs: { low: 3, high: 1 } })
      .expect(400);
  });
});
