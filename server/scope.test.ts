import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { type Endpoint, endpoints } from '@ulkret/contract';
import type { Express } from 'express';
import supertest from 'supertest';
import { neutralRules } from '@ulkret/core/care';
import { shippedDrills } from '@ulkret/core/drills';
import { aRep, factId, plainBreakdown, someTerms, aSession } from '../core/test';
import { createServer } from './index';
import { secondOpinions } from './db/schema';
import { aStudent, anAcademy, signedIn, testTechnique, settingsOf } from './test/academy';
import { freshDatabase } from './test/database';

/** A word that occurs in everything of harbour, and in nothing that anybody else may read. */
const mark = 'saltmarsh';
const session = factId(8000);
const at = new Date(Date.now() - 86_400_000).toISOString();
const told = (n: number) => ({ id: factId(n), session, at, observer: 'coach' });

const terms = { ...someTerms, checkpoint: 'c2', mistake: null, cue: `${mark} first` };

let database: Awaited<ReturnType<typeof freshDatabase>>;
let elsewhere: typeof database;
let app: Express;
type Agent = Awaited<ReturnType<typeof signedIn>>;
let harbour: Agent;
let hill: Agent;
/** An academy like hill, on an instance where nobody has written anything. */
let alone: Agent;

/** Puts the word into every place that a coach can write to. */
async function writeEverywhere(): Promise<void> {
  await database.pool.query(
    `insert into passkeys (academy_id, coach_id, id, public_key, counter, device) values ('harbour', 'coach', $1, '', 0, 'a phone')`,
    [mark],
  );
  await supertest(app)
    .post('/api/session')
    .send({ email: 'coach@harbour.example', password: 'not the password' })
    .expect(401);
  await harbour.put('/api/academy').send({ units: 'lb and ft' }).expect(200);
  await harbour
    .put(`/api/students/${mark}`)
    .send(aStudent(mark, { name: `Sal ${mark}` }))
    .expect(200);
  await harbour
    .put(`/api/sessions/${session}`)
    .send(
      aSession({
        id: session,
        startedAt: at,
        pairs: [[mark, 'ada']],
      }),
    )
    .expect(200);
  const { body } = await harbour
    .post('/api/reps')
    .send({
      reps: [
        aRep({ ...told(8001), student: mark, partner: 'ada', stop: 'c2', note: `${mark} slips` }),
        ...Array.from({ length: 12 }, (_, i) =>
          aRep({ ...told(8100 + i), student: mark, partner: 'ada', note: mark }),
        ),
      ],
      notes: [
        {
          ...told(8002),
          person: mark,
          why: 'pain',
          regions: ['knee'],
          side: null,
          until: '2099-01-01',
          words: `${mark} knee`,
          replaces: null,
        },
      ],
      overrides: [
        {
          ...told(8003),
          student: mark,
          partner: 'ada',
          technique: 'test-lock',
          reason: `${mark} has asked for it`,
        },
      ],
      steps: [
        {
          ...told(8006),
          session: null,
          student: mark,
          technique: 'test-lock',
          edition: 1,
          does: { is: 'declined', checkpoint: 'c1', reason: `${mark} wants to wait` },
        },
        {
          ...told(8007),
          session: null,
          student: mark,
          technique: 'test-lock',
          edition: 1,
          does: { is: 'accepted', terms, stood: null },
        },
      ],
      changes: [{ ...told(8004), set: { is: 'words', about: mark, words: `${mark} was sharp` } }],
    })
    .expect(200);
  const answers = (body as { items: { answer: string }[] }).items.map(({ answer }) => answer);
  expect(new Set(answers)).toEqual(new Set(['accepted']));
  const look = { academyId: 'harbour', rep: factId(8001), at, observer: 'another' };
  await database.db.insert(secondOpinions).values([
    { ...look, id: factId(8005), stop: 'c1' },
    // One that nobody can read, and that is told as such.
    { ...look, id: factId(8008), stop: `No id, ${mark}` },
  ]);
  await harbour
    .put(`/api/students/${mark}/notes/${factId(8020)}`)
    .send({ words: `${mark} likes to go first`, seenBy: 'coaches' })
    .expect(200);
  await harbour
    .put(`/api/drills/${mark}`)
    .send({ ...shippedDrills[0], id: mark, title: `Drill of ${mark}` })
    .expect(200);
  await harbour.post(`/api/students/${mark}/cards`).send({ days: 30 }).expect(200);
  await harbour
    .put(`/api/positions/${mark}`)
    .send({ id: mark, name: `Seat of ${mark}`, aliases: [], family: null, ahead: null })
    .expect(200);
  await harbour
    .put(`/api/pieces/${mark}`)
    .send({ id: mark, kind: 'grip', title: `Grip of ${mark}`, criterion: 'Closed.', proofs: [] })
    .expect(200);
  await harbour
    .post('/api/invitations')
    .send({ role: 'coach', name: `Friend of ${mark}` })
    .expect(200);
  await harbour
    .put('/api/rules')
    .send({ rules: { ...neutralRules, name: `Rules of ${mark}` }, revision: 0 })
    .expect(200);
  const draft = plainBreakdown(5);
  draft.checkpoints[0]!.title = `Point of ${mark}`;
  const written = { path: [], value: { technique: { ...testTechnique, name: `Lock of ${mark}` }, draft } };
  const write = (revision: number, edition: number) =>
    harbour
      .put('/api/techniques/test-lock/draft')
      .send({ revision, edition, edits: [written] })
      .expect(200);
  const { revision } = (await write(0, 1)).body as { revision: number };
  await harbour.post('/api/techniques/test-lock/publish').send({ revision }).expect(200);
  await write(0, 2);
  await harbour
    .post('/api/techniques')
    .send({ ...testTechnique, id: mark, name: `Press of ${mark}` })
    .expect(200);
}

/** About the server, the asking device, the card's student, or no text: tested with the roles and the archive. */
const ofNone = new Set(['keeping', 'devices', 'ownCard', 'exportAcademy']);
/** Every address that can be read, filled in with what only harbour has. The stream has tests of its own. */
const readable = (Object.entries(endpoints) as unknown as [string, Endpoint][]).filter(
  ([name, { method }]) => method === 'get' && name !== 'live' && !ofNone.has(name),
);
/** What is the same for every academy: the papers of the interface, and that somebody is who they are. */
const papers = new Set(['apiDescription', 'breakdownSchema', 'health', 'proof']);
const fillings = [
  { id: session, technique: 'test-lock', student: mark, checkpoint: 'c2' },
  { id: 'test-lock', technique: 'test-lock', student: mark, checkpoint: 'c1' },
  { id: mark, technique: mark, student: 'ada', checkpoint: 'c1' },
];
const addressOf = ({ path }: Endpoint, filling: (typeof fillings)[number]): string =>
  `${path.replace(/:(\w+)/g, (_, name: string) => filling[name as 'id'])}?${new URLSearchParams(filling)}`;

async function readBy(agent: Agent, endpoint: Endpoint): Promise<string> {
  const answers = await Promise.all(fillings.map((filling) => agent.get(addressOf(endpoint, filling))));
  // A refusal may name what was asked for: that says nothing that was not known. What time it is and what was drawn at random differ, and say nothing.
  return answers
    .filter(({ status }) => status === 200)
    .map(({ text }) =>
      text
        .replaceAll(/\d{4}-\d\d-\d\dT[\d:.]+Z/g, 'then')
        .replaceAll(/[\da-f]{8}-[\da-f]{4}-4[\da-f]{3}-[\da-f]{4}-[\da-f]{12}/g, 'any'),
    )
    .join();
}

beforeAll(async () => {
  database = await freshDatabase();
  app = createServer(database.db, settingsOf(database.db));
  await anAcademy(database.db, 'harbour');
  await anAcademy(database.db, 'hill');
  [harbour, hill] = await Promise.all([signedIn(app, 'harbour'), signedIn(app, 'hill')]);
  elsewhere = await freshDatabase();
  await anAcademy(elsewhere.db, 'hill');
  alone = await signedIn(createServer(elsewhere.db, settingsOf(elsewhere.db)), 'hill');
  await writeEverywhere();
});
afterAll(() => Promise.all([database.drop(), elsewhere.drop()]));

describe('what one academy has', () => {
  test.each(readable)(
    'is told to itself at %s; another is told what it would be told if there were nobody else',
    async (name, endpoint) => {
      const [own, others, none] = await Promise.all(
        [harbour, hill, alone].map((one) => readBy(one, endpoint)),
      );
      expect(others).toBe(none);
      if (!papers.has(name)) expect(own!.replaceAll('harbour', 'hill')).not.toBe(none);
    },
  );

  test('is not changed by another, whatever it sends to the same addresses', async () => {
    const before = await harbour.get('/api/kit').expect(200);
    await hill.put(`/api/students/${mark}`).send(aStudent(mark, { name: 'Somebody else' }));
    await hill.delete('/api/techniques/test-lock/draft');
    await hill.post('/api/techniques/test-lock/publish').send({ revision: 1 });
    const taken = { ...told(8900), rep: factId(8001) };
    await hill.post('/api/reps').send({ voids: [{ id: taken.id, rep: taken.rep, at, observer: 'coach' }] });
    expect((await harbour.get('/api/kit')).body).toEqual(before.body);
    const { body } = await harbour.get('/api/techniques/test-lock/draft').expect(200);
    expect(body.draft.technique.name).toBe(`Lock of ${mark}`);
    const log = await harbour.get(`/api/sessions/${session}`).expect(200);
    expect([log.body.facts.reps.length, log.body.facts.voids]).toEqual([13, []]);
  });
});

describe('what a batch is checked against', () => {
  test('is never too old to let in who has just come, or what was just published', async () => {
    const send = async (rep: object) =>
      (await hill.post('/api/reps').send({ reps: [rep] })).body.items[0] as {
        answer: string;
        reason?: string;
      };
    const rep = aRep({ id: factId(8800), student: 'newcomer' });
    expect(await send(rep)).toMatchObject({
      answer: 'refused',
      reason: 'student: "newcomer" is not on the roster',
    });
    await hill.put('/api/students/newcomer').send(aStudent('newcomer')).expect(200);
    expect(await send(rep)).toMatchObject({ answer: 'accepted' });

    const later = aRep({ id: factId(8801), edition: 2 });
    expect(await send(later)).toMatchObject({ answer: 'refused' });
    const [{ revision }] = [
      (
        await hill
          .put('/api/techniques/test-lock/draft')
          .send({ revision: 0, edition: 1, edits: [{ path: ['draft', 'source'], value: 'seen again' }] })
          .expect(200)
      ).body as { revision: number },
    ];
    await hill.post('/api/techniques/test-lock/publish').send({ revision }).expect(200);
    expect(await send(later)).toMatchObject({ answer: 'accepted' });
  });

  test('is read again when somebody turns out to be a minor', async () => {
    await hill.put(`/api/sessions/${factId(8850)}`).send({
      id: factId(8850),
      startedAt: at,
      pairs: [['ada', 'ben']],
    });
    const override = (n: number) => ({
      ...told(n),
      session: factId(8850),
      student: 'ada',
      partner: 'ben',
      technique: 'test-lock',
      reason: 'both are used to it',
    });
    const answer = async (n: number) =>
      (await hill.post('/api/reps').send({ overrides: [override(n)] })).body.items[0].answer as string;
    expect(await answer(8860)).toBe('accepted');
    await hill
      .put('/api/students/ada')
      .send(aStudent('ada', { born: '2014-01-01' }))
      .expect(200);
    expect(await answer(8861)).toBe('refused');
  });
});
