import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { type Drill, shippedDrills } from '@ulkret/core/drills';
import { type Life, livesOf, type Prescription, type Step, termsOf } from '@ulkret/core/prescription';
import type { Express } from 'express';
import { aRep, factId, plainBreakdown, someTerms } from '../../core/test';
import { createServer } from '../index';
import { anAcademy, settingsOf, signedIn } from '../test/academy';
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
  test('is proposed with a drill and its reason, declined for four weeks, and accepted all the same', async () => {
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
      'student: nobody on the roster is "nobody"',
    ]);
    expect(await send({ steps: [{ ...nowhere, id: ids(), edition: 7 }] })).toEqual([
      'edition: there is no edition 7 of "test-lock"',
    ]);
    const [reason] = await send({
      steps: [step(1, { is: 'declined', checkpoint: 'c3', reason: ' ' })],
    });
    expect(reason).toContain('say in a few words why not');
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
