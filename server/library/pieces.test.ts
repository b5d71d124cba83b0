import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { type Breakdown, type Piece, shippedPieces, takenFrom } from '@ulkret/core/breakdown';
import type { ListedPiece } from '@ulkret/contract';
import { aRep, plainBreakdown } from '../../core/test';
import { anAcademy, settingsOf, signedIn, testTechnique } from '../test/academy';
import { freshDatabase } from '../test/database';
import { createServer } from '..';

let database: Awaited<ReturnType<typeof freshDatabase>>;
let hill: Awaited<ReturnType<typeof signedIn>>;
let harbour: Awaited<ReturnType<typeof signedIn>>;
beforeAll(async () => {
  database = await freshDatabase();
  const app = createServer(database.db, settingsOf(database.db));
  await anAcademy(database.db, 'hill');
  await anAcademy(database.db, 'harbour');
  [hill, harbour] = await Promise.all([signedIn(app, 'hill'), signedIn(app, 'harbour')]);
});
afterAll(() => database.drop());

const grip: Piece = {
  id: 'four',
  kind: 'grip',
  title: 'Four closed',
  criterion: 'Closed.',
  proofs: [{ by: 'see', text: 'No gap.' }],
};
const save = (piece: Piece) => hill.put(`/api/pieces/${piece.id}`).send(piece);
const listed = async (as = hill) =>
  ((await as.get('/api/pieces').expect(200)).body.pieces as ListedPiece[]).filter(
    ({ id }) => !shippedPieces.some((one) => one.id === id),
  );
const lockOf = (technique: string): Breakdown => ({ ...plainBreakdown(5), technique });
const shared = (breakdown: Breakdown, own: object = {}): Breakdown => ({
  ...breakdown,
  checkpoints: breakdown.checkpoints.map((one) =>
    one.id === 'c2' ? { ...takenFrom(one, grip), ...own } : one,
  ),
});
const latest = async (technique: string) =>
  ((await hill.get(`/api/techniques/${technique}`).expect(200)).body.editions as Breakdown[]).at(-1)!;
const draftOf = async (technique: string) =>
  (await hill.get(`/api/techniques/${technique}/draft`).expect(200)).body.draft as {
    draft: Breakdown;
    revision: number;
  } | null;
async function publish(technique: string, draft: Breakdown): Promise<void> {
  const { edition } = await latest(technique);
  const value = { technique: { ...testTechnique, id: technique, name: technique }, draft };
  const saved = await hill
    .put(`/api/techniques/${technique}/draft`)
    .send({ revision: (await draftOf(technique))?.revision ?? 0, edition, edits: [{ path: [], value }] })
    .expect(200);
  await hill.post(`/api/techniques/${technique}/publish`).send({ revision: saved.body.revision }).expect(200);
}
const inFile = (...techniques: string[]) => ({
  format: 'ulkret.breakdown/2',
  techniques: techniques.map((id) => ({
    technique: { ...testTechnique, id, name: id },
    editions: [shared(lockOf(id))],
  })),
  pieces: [grip],
});

describe('a shared piece', () => {
  test('comes with a file, is told where it occurs, and is of one academy', async () => {
    const { body } = await hill
      .post('/api/import/breakdown')
      .send(inFile('one-lock', 'two-lock'))
      .expect(200);
    expect(body).toMatchObject({ pieces: [{ id: 'four', is: 'new' }], brought: { pieces: ['four'] } });
    expect(await listed()).toMatchObject([
      {
        ...grip,
        occurs: ['one-lock', 'two-lock'].map((technique) => ({
          technique,
          checkpoint: 'c2',
          overwrites: [],
        })),
      },
    ]);
    expect(await listed(harbour)).toEqual([]);
    const out = (await hill.get('/api/export/breakdowns.json').expect(200)).body as { pieces: Piece[] };
    expect(out.pieces).toEqual([grip]);
    // Read again it is already here; undone it stays while a technique has it.
    const again = (await hill.post('/api/import/breakdown').send(out).expect(200)).body;
    expect(again).toMatchObject({ pieces: [{ id: 'four', is: 'same' }] });
    const nothing = { techniques: [], drafts: [], drills: [], pieces: ['four'] };
    const back = (await hill.post('/api/import/breakdown/back').send(nothing).expect(200)).body;
    expect(back).toMatchObject({ gone: 0, stays: [{ reason: 'one-lock, two-lock still uses it' }] });
  });

  test('is followed by drafts where its words stand; what is published stays as it was', async () => {
    await publish('two-lock', shared(lockOf('two-lock'), { title: 'Ours' }));
    const next = { ...grip, title: 'Close the four', criterion: 'Held with both.' };
    expect((await save(next).expect(200)).body.drafts.sort()).toEqual(['one-lock', 'two-lock']);
    expect((await draftOf('one-lock'))!.draft.checkpoints[1]).toMatchObject({
      title: next.title,
      criterion: next.criterion,
    });
    expect((await draftOf('two-lock'))!.draft.checkpoints[1]).toMatchObject({
      title: 'Ours',
      criterion: 'Held with both.',
    });
    expect((await latest('one-lock')).checkpoints[1]!.title).toBe('Four closed');
    const { revision } = (await draftOf('one-lock'))!;
    // Said again, nothing is new, and nobody's draft is counted on.
    expect((await save(next).expect(200)).body.drafts).toEqual([]);
    expect((await draftOf('one-lock'))!.revision).toBe(revision);
    // Taken back, what says no more than the edition is no draft.
    expect((await save(grip).expect(200)).body.drafts).toEqual([]);
    expect(await draftOf('one-lock')).toBeNull();
    expect(await draftOf('two-lock')).toBeNull();
  });

  test('is not taken away while a technique has it', async () => {
    const refused = await hill.delete('/api/pieces/four').expect(409);
    expect(refused.body.error).toContain('one-lock, two-lock');
    await save({ ...grip, id: 'spare' }).expect(200);
    expect((await hill.delete('/api/pieces/spare').expect(200)).body).toEqual({ removed: true });
    expect((await hill.delete('/api/pieces/spare').expect(200)).body).toEqual({ removed: false });
    await save({ ...grip, title: ' ' }).expect(400);
  });

  test('is one deviation in the full reading: what a student loses there in one technique is expected in another', async () => {
    const reps = [
      ...Array.from({ length: 24 }, () => ({ technique: 'one-lock', stop: 'c2' })),
      ...Array.from({ length: 3 }, () => ({ technique: 'two-lock', stop: 'c3' })),
    ].map(({ technique, stop }) => aRep({ technique, outcome: 'stopped', stop }));
    const others = ['ben', 'cleo', 'dan'].flatMap((student) =>
      ['one-lock', 'two-lock'].flatMap((technique) =>
        Array.from({ length: 10 }, () => aRep({ technique, student, partner: 'ada', outcome: 'finished' })),
      ),
    );
    await hill
      .post('/api/reps')
      .send({ reps: [...reps, ...others] })
      .expect(200);
    const hazard = async () => {
      const { body } = await hill
        .get('/api/rates?technique=two-lock&weeks=0&method=full&asOf=2026-03-06T00:00:00Z')
        .expect(200);
      const ada = body.students.find((one: { student: string }) => one.student === 'ada');
      return ada.checkpoints.find((one: { checkpoint: string }) => one.checkpoint === 'c2').hazard
        .value as number;
    };
    const pooled = await hazard();
    const { piece: _, ...alone } = (await latest('two-lock')).checkpoints[1]!;
    const lock = await latest('two-lock');
    await publish('two-lock', { ...lock, checkpoints: lock.checkpoints.with(1, alone) });
    const apart = await hazard();
    expect(pooled).toBeGreaterThan(1.25 * apart);
  });
});

test('pieces that ship are there, are changed like one’s own, and come back as they ship', async () => {
  const all = async () => (await hill.get('/api/pieces').expect(200)).body.pieces as ListedPiece[];
  const [shipped] = shippedPieces;
  expect(await all()).toContainEqual({ ...shipped, occurs: [] });
  await save({ ...shipped!, title: 'Hands joined' }).expect(200);
  expect((await all()).filter(({ id }) => id === shipped!.id)).toMatchObject([{ title: 'Hands joined' }]);
  await hill.delete(`/api/pieces/${shipped!.id}`).expect(200);
  expect(await all()).toContainEqual({ ...shipped, occurs: [] });
});
