import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { type Breakdown, type Draft, editsBetween, setAt } from '@ulkret/core/breakdown';
import { shippedDrills } from '@ulkret/core/drills';
import type { Express } from 'express';
import supertest from 'supertest';
import { aRep, factId, plainBreakdown } from '../../core/test';
import { anAcademy, signedIn, testTechnique, settingsOf } from '../test/academy';
import { freshDatabase } from '../test/database';
import { createServer } from '..';

let database: Awaited<ReturnType<typeof freshDatabase>>;
let app: Express;
let hill: Awaited<ReturnType<typeof signedIn>>;
let harbour: Awaited<ReturnType<typeof signedIn>>;
beforeAll(async () => {
  database = await freshDatabase();
  app = createServer(database.db, settingsOf(database.db));
  await anAcademy(database.db, 'hill');
  await anAcademy(database.db, 'harbour');
  [hill, harbour] = await Promise.all([signedIn(app, 'hill'), signedIn(app, 'harbour')]);
});
afterAll(() => database.drop());

const address = '/api/techniques/test-lock';
const draft: Draft = plainBreakdown(5);
const put = (body: object) => hill.put(`${address}/draft`).send({ edition: 1, ...body });
const save = (of: Draft, revision: number) =>
  put({ revision, edits: [{ path: [], value: { technique: testTechnique, draft: of } }] });

describe('positions', () => {
  const called = async (name: string, as = hill) =>
    (
      (await as.get('/api/positions').expect(200)).body.positions as {
        id: string;
        name: string;
        aliases: string[];
        mergedInto: string | null;
        techniques: string[];
      }[]
    ).filter((one) => one.name === name);

  test('are those that ship and those that breakdowns name, and can be added, renamed, merged and parted', async () => {
    const [guard] = await called('Closed guard');
    expect(guard!.techniques).toContain('test-lock');
    const boat = { name: 'On a boat', aliases: [], family: 'standing', ahead: 'neither' };
    await hill
      .put('/api/positions/boat')
      .send({ id: 'boat', ...boat })
      .expect(200);
    await hill
      .put('/api/positions/boat')
      .send({ id: 'boat', ...boat, name: 'On a raft' })
      .expect(200);
    expect((await called('On a raft'))[0]!.aliases).toEqual(['On a boat']);
    await hill.post('/api/positions/boat/merge').send({ into: 'mount' }).expect(200);
    expect((await called('Mount'))[0]!.aliases).toEqual(expect.arrayContaining(['On a raft', 'On a boat']));
    expect((await called('On a raft'))[0]!.mergedInto).toBe('mount');
    await hill.post('/api/positions/boat/merge').send({ into: 'mount' }).expect(404);
    await hill.post('/api/positions/nowhere/merge').send({ into: 'mount' }).expect(404);
    await hill.post('/api/positions/boat/part').send().expect(200);
    expect((await called('Mount'))[0]!.aliases).not.toContain('On a boat');
    expect((await called('On a raft'))[0]!.mergedInto).toBeNull();
    // The library goes by the position that a text names, whatever it is called by.
    const startOf = async () =>
      (await hill.get('/api/techniques').expect(200)).body.techniques[0].position as string;
    const before = await startOf();
    const named = (await hill.get('/api/positions')).body.positions.find(
      ({ techniques }: { techniques: string[] }) => techniques.includes('test-lock'),
    );
    expect(before).toBe(guard!.name);
    await hill.post(`/api/positions/${named.id}/merge`).send({ into: 'boat' }).expect(200);
    expect(await startOf()).toBe('On a raft');
    await hill.post(`/api/positions/${named.id}/part`).send().expect(200);
    expect(await startOf()).toBe(before);
    // Those of one academy are nothing to another.
    expect(await called('On a raft', harbour)).toEqual([]);
    await hill
      .put('/api/positions/boat')
      .send({ id: 'boat', ...boat, name: '' })
      .expect(400);
  });
});

describe('a draft', () => {
  test('is saved in turn: who began from an older revision is told, and nothing is overwritten', async () => {
    expect((await hill.get(`${address}/draft`).expect(200)).body).toEqual({ draft: null });
    const first = setAt(draft, ['checkpoints', 0, 'title'], 'First');
    expect((await save(first, 0).expect(200)).body).toMatchObject({ revision: 1, savedBy: 'Coach' });
    const late = await save(setAt(draft, ['checkpoints', 0, 'title'], 'Late'), 0).expect(409);
    expect(late.body.todo).toMatch(/merge/);
    expect((await save(first, 7)).status).toBe(409);
    expect((await hill.get(`${address}/draft`)).body.draft.draft.checkpoints[0].title).toBe('First');
    expect((await save(setAt(first, ['checkpoints', 1, 'title'], 'Second'), 1)).body.revision).toBe(2);
  });

  test('of two who save at the same moment one is kept whole, the other told', async () => {
    const both = await Promise.all([
      save(setAt(draft, ['source'], 'a'), 2),
      save(setAt(draft, ['source'], 'b'), 2),
    ]);
    expect(both.map(({ status }) => status).sort()).toEqual([200, 409]);
  });

  test('is saved by what was edited in it, and the rest stays as it is there', async () => {
    const before = (await hill.get(`${address}/draft`)).body.draft as { draft: Draft; revision: number };
    const edits = editsBetween(
      { draft: before.draft },
      { draft: setAt(setAt(before.draft, ['checkpoints', 1, 'criterion'], 'Again'), ['source'], 'c') },
    );
    expect(edits).toHaveLength(2);
    await put({ revision: before.revision, edits }).expect(200);
    const { draft: after } = (await hill.get(`${address}/draft`)).body as { draft: { draft: Draft } };
    expect(after.draft).toEqual({
      ...setAt(before.draft, ['checkpoints', 1, 'criterion'], 'Again'),
      source: 'c',
    });
  });

  test('takes no edit that leads nowhere or leaves no draft, and says so', async () => {
    const { revision } = (await hill.get(`${address}/draft`)).body.draft as { revision: number };
    const at = (path: (string | number)[]) => put({ revision, edits: [{ path, value: 'x' }] });
    for (const path of [
      ['draft', 'checkpoints', 99, 'title'],
      ['draft', 'nobody', 'at', 'home'],
    ])
      expect((await at(path).expect(409)).body.todo).toMatch(/merge/);
    for (const path of [[], ['draft']]) await at(path).expect(400);
    const { body } = await put({
      revision,
      edits: [{ path: ['draft', 'checkpoints', 0, 'belief'], value: 'x' }],
    });
    expect(body.error).toMatch(/draft\.checkpoints\.0\.belief: it should be a number/);
    const other = [{ path: ['technique', 'id'], value: 'other' }];
    expect((await put({ revision, edits: other }).expect(400)).body.error).toMatch(/different techniques/);
    expect((await hill.get(`${address}/draft`)).body.draft.revision).toBe(revision);
  });

  test('is nobody else’s', async () => {
    expect((await harbour.get(`${address}/draft`)).body).toEqual({ draft: null });
    const { body } = await harbour.get('/api/techniques');
    expect(body.techniques[0].draft).toBe(false);
  });

  test('may be half written, but is not published with an error', async () => {
    const half = setAt(draft, ['checkpoints', 2, 'criterion'], '');
    const { revision } = (await save(half, 4).expect(200)).body as { revision: number };
    const refused = await hill.post(`${address}/publish`).send({ revision }).expect(422);
    expect(refused.body.error).toMatch(/Checkpoint 3 has no criterion/);
    expect((await hill.post(`${address}/publish`).send({ revision: 1 })).status).toBe(409);
  });

  test('becomes the next edition, and the one before stays as it was', async () => {
    const fixed = setAt(draft, ['checkpoints', 2, 'title'], 'Mended');
    const { revision } = (await save(fixed, 5).expect(200)).body as { revision: number };
    expect((await hill.post(`${address}/publish`).send({ revision }).expect(200)).body).toEqual({
      edition: 2,
    });
    const { body } = await hill.get(address).expect(200);
    expect(body.editions.map((one: Draft) => [one.edition, one.checkpoints[2]!.title])).toEqual([
      [1, 'Point 3'],
      [2, 'Mended'],
    ]);
    expect((await hill.get(`${address}/draft`)).body).toEqual({ draft: null });
    const [row] = (await hill.get('/api/techniques')).body.techniques;
    expect(row).toMatchObject({ edition: 2, editions: 2, draft: false, errors: 0 });
    expect(row.words).toContain('Mended');
    await hill.post(`${address}/publish`).send({ revision }).expect(404);
    // Who still writes on the edition before is told, and does not take back what is published.
    await put({ revision: 0, edits: [{ path: ['draft', 'source'], value: 'old' }] }).expect(409);
  });

  test('is not published over an edition that came in since, unless confirmed', async () => {
    const base = (await hill.get(address)).body.editions.at(-1) as Draft & { edition: number };
    const begun = await put({
      revision: 0,
      edition: base.edition,
      edits: [{ path: ['draft', 'source'], value: 'seen again' }],
    }).expect(200);
    const { revision } = begun.body as { revision: number };
    const technique = (await hill.get(address)).body.technique;
    const came = {
      ...base,
      edition: base.edition + 1,
      checkpoints: setAt(base, ['checkpoints', 1, 'title'], 'Brought').checkpoints,
    };
    await hill
      .post('/api/import/breakdown')
      .send({ format: 'ulkret.breakdown/2', techniques: [{ technique, editions: [came] }] })
      .expect(200);
    const refused = await hill.post(`${address}/publish`).send({ revision }).expect(409);
    expect(refused.body.error).toContain(`Edition ${came.edition} was published after you started`);
    // What is said is which one; another one that comes in after that is told again.
    await hill.post(`${address}/publish`).send({ revision, over: base.edition }).expect(409);
    const { body } = await hill.post(`${address}/publish`).send({ revision, over: came.edition }).expect(200);
    expect(body).toEqual({ edition: came.edition + 1 });
    const { editions } = (await hill.get(address)).body as { editions: Draft[] };
    expect(editions.at(-2)!.checkpoints[1]!.title).toBe('Brought');
  });

  test('a file brings along the drills that are made for it, once', async () => {
    const [technique] = (await hill.get('/api/export/breakdowns.json')).body.techniques;
    const { id } = technique.technique;
    const drill = {
      ...shippedDrills[0]!,
      id: 'ours-alone',
      title: 'Ours alone',
      trains: { ...shippedDrills[0]!.trains, checkpoints: [{ technique: id, id: 'c1' }] },
    };
    const file = { format: 'ulkret.breakdown/2', techniques: [], drills: [drill] };
    const read = async (dry: boolean) =>
      (await hill.post(`/api/import/breakdown?dry=${dry}`).send(file).expect(200)).body.drills[0].is;
    expect([await read(true), await read(false), await read(false)]).toEqual(['new', 'new', 'same']);
    const out = await hill.get(`/api/export/breakdowns.json?technique=${id}`).expect(200);
    expect(out.body.drills.map((one: { id: string }) => one.id)).toContain('ours-alone');
  });

  test('a drill of a file that asks for harm is refused, and the others come in', async () => {
    const [good, bad] = ['soft-drill', 'hard-drill'].map((id) => ({
      ...shippedDrills[0]!,
      id,
      title: id,
      ...(id === 'hard-drill' && { constraint: 'Jerk the arm straight before they can tap.' }),
    }));
    const file = { format: 'ulkret.breakdown/2', techniques: [], drills: [good, bad] };
    const { body } = await hill.post('/api/import/breakdown').send(file).expect(200);
    expect(body.drills).toMatchObject([
      { id: 'soft-drill', is: 'new' },
      { id: 'hard-drill', is: 'refused', reason: expect.stringMatching(/asks for force or speed/) },
    ]);
    expect(body.brought.drills).toEqual(['soft-drill']);
    await hill.post('/api/import/breakdown/back').send(body.brought).expect(200);
  });

  test('a file brings along the academy’s own positions that its breakdowns name', async () => {
    const position = {
      id: 'our-ride',
      name: 'Our ride',
      aliases: ['The ride'],
      family: 'back',
      ahead: 'above',
    };
    await hill.put('/api/positions/our-ride').send(position).expect(200);
    const { body: file } = await hill.get('/api/export/breakdowns.json?technique=test-lock').expect(200);
    expect(file.positions).toEqual([]);
    file.techniques[0].technique = {
      ...file.techniques[0].technique,
      id: 'riding',
      startPosition: 'The ride',
    };
    for (const edition of file.techniques[0].editions) edition.technique = 'riding';
    const { brought } = (await hill.post('/api/import/breakdown').send(file).expect(200)).body;
    const out = (await hill.get('/api/export/breakdowns.json?technique=riding').expect(200)).body;
    expect(out.positions).toMatchObject([position]);
    const { body } = await harbour.post('/api/import/breakdown').send(out).expect(200);
    expect(body.positions).toMatchObject([{ id: 'our-ride', title: 'Our ride', is: 'new' }]);
    expect((await harbour.get('/api/export/breakdowns.json?technique=riding')).body.positions).toMatchObject([
      position,
    ]);
    await harbour.post('/api/import/breakdown/back').send(body.brought).expect(200);
    await hill.post('/api/import/breakdown/back').send(brought).expect(200);
  });

  test('of a new technique begins empty, and goes with it when it is thrown away', async () => {
    const one = { ...testTechnique, id: 'brand-new', name: 'Brand new' };
    expect((await hill.post('/api/techniques').send(one).expect(200)).body).toMatchObject({ revision: 1 });
    await hill.post('/api/techniques').send(one).expect(409);
    const rows = (await hill.get('/api/techniques')).body.techniques as {
      technique: { id: string };
      edition: number;
    }[];
    expect(rows.find(({ technique }) => technique.id === 'brand-new')?.edition).toBe(0);
    expect((await hill.delete('/api/techniques/brand-new/draft').expect(200)).body).toEqual({
      discarded: true,
    });
    await hill.get('/api/techniques/brand-new').expect(404);
  });
});

describe('files of breakdowns', () => {
  test('carry a library from one academy to another, exactly', async () => {
    const { body: file } = await hill.get('/api/export/breakdowns.json').expect(200);
    const dry = await harbour.post('/api/import/breakdown?dry=true').send(file).expect(200);
    expect(dry.body).toMatchObject({ kept: false, items: [{ technique: 'test-lock', is: 'changed' }] });
    expect((await harbour.get(address)).body.editions).toHaveLength(1);
    await harbour.post('/api/import/breakdown').send(file).expect(200);
    expect((await harbour.get('/api/export/breakdowns.json')).body).toEqual(file);
    const again = await harbour.post('/api/import/breakdown').send(file).expect(200);
    expect(again.body.items).toMatchObject([{ is: 'same' }]);
  });

  test('go through the gate of publishing: what has errors comes in as a draft, and the preview says which', async () => {
    const { body: file } = await hill.get('/api/export/breakdowns.json?technique=test-lock').expect(200);
    const [one] = file.techniques as [{ technique: { id: string }; editions: Breakdown[] }];
    one.technique.id = 'gated';
    one.editions = [{ ...one.editions.at(-1)!, technique: 'gated', edition: 1 }];
    one.editions[0]!.checkpoints[1]!.criterion = '';
    one.editions[0]!.mistakes[0]!.cue = 'Jerk the arm straight.';
    const send = async (dry: boolean) =>
      (await hill.post(`/api/import/breakdown?dry=${dry}`).send(file).expect(200)).body.items[0];
    const told = {
      is: 'new',
      draft: true,
      faults: [
        {
          path: 'techniques[0].editions[0].checkpoints[1].criterion',
          reason: expect.stringMatching(/has no criterion/),
        },
        {
          path: 'techniques[0].editions[0].mistakes[0].cue',
          reason: expect.stringMatching(/“jerk” asks for force or speed/),
        },
      ],
    };
    expect(await send(true)).toMatchObject(told);
    await hill.get('/api/techniques/gated').expect(404);
    expect(await send(false)).toMatchObject(told);
    expect((await hill.get('/api/techniques/gated').expect(200)).body.editions).toEqual([]);
    const { draft } = (await hill.get('/api/techniques/gated/draft').expect(200)).body;
    expect(draft.draft.mistakes[0].cue).toBe('Jerk the arm straight.');
    // Nobody's draft is written over.
    expect(await send(false)).toMatchObject({ is: 'refused', faults: [{ path: 'gated' }, {}, {}] });
    await hill.delete('/api/techniques/gated/draft').expect(200);
  });

  test('that drop a rule tag make an edition of it', async () => {
    const { body: file } = await hill.get('/api/export/breakdowns.json?technique=test-lock').expect(200);
    const [one] = file.techniques as [
      { technique: { id: string; ruleTags: string[] }; editions: Breakdown[] },
    ];
    one.technique.id = 'tagged';
    one.editions = [{ ...one.editions.at(-1)!, technique: 'tagged', edition: 1 }];
    one.technique.ruleTags = ['slam risk'];
    const editions = async () => (await hill.get('/api/techniques/tagged').expect(200)).body.editions.length;
    await hill.post('/api/import/breakdown').send(file).expect(200);
    expect(await editions()).toBe(1);
    one.technique.ruleTags = [];
    expect((await hill.post('/api/import/breakdown').send(file).expect(200)).body.items[0].is).toBe(
      'changed',
    );
    expect(await editions()).toBe(2);
  });

  test('are undone as a whole; parts drilled, decided or edited since then stay, and are listed', async () => {
    const { body: file } = await harbour.get('/api/export/breakdowns.json?technique=test-lock').expect(200);
    const [own] = file.techniques as [{ technique: { id: string; name: string }; editions: Breakdown[] }];
    const before = (await harbour.get('/api/export/breakdowns.json').expect(200)).body;
    const copy = (id: string) => ({
      technique: { ...own.technique, id, name: `Copy ${id}` },
      editions: [{ ...own.editions.at(-1)!, technique: id, edition: 1 }],
    });
    const changed = {
      technique: { ...own.technique, name: 'Renamed lock' },
      editions: [{ ...own.editions.at(-1)!, source: 'another school' }],
    };
    const broken = copy('broken');
    broken.editions[0]!.checkpoints = broken.editions[0]!.checkpoints.map((one) => ({
      ...one,
      criterion: '',
    }));
    const send = async () =>
      (
        await harbour
          .post('/api/import/breakdown')
          .send({
            format: 'ulkret.breakdown/2',
            techniques: [changed, copy('fresh'), broken],
            drills: [{ ...shippedDrills[0]!, id: 'brought', title: 'Brought' }],
          })
          .expect(200)
      ).body.brought as {
        techniques: { id: string; editions: number[] }[];
        drafts: string[];
        drills: string[];
      };
    const back = async (brought: object) =>
      (await harbour.post('/api/import/breakdown/back').send(brought).expect(200)).body;
    const brought = await send();
    const newest = own.editions.at(-1)!.edition + 1;
    expect(brought).toMatchObject({
      techniques: [
        { id: 'test-lock', editions: [newest] },
        { id: 'fresh', editions: [1] },
        { id: 'broken', editions: [] },
      ],
      drafts: ['broken'],
      drills: ['brought'],
    });
    expect((await harbour.get(address)).body.technique.name).toBe('Renamed lock');
    expect(await back(brought)).toEqual({ gone: 4, stays: [] });
    expect((await harbour.get('/api/export/breakdowns.json')).body).toEqual(before);
    await harbour.get('/api/techniques/broken').expect(404);
    // Twice changes nothing.
    expect(await back(brought)).toEqual({ gone: 0, stays: [] });
    expect((await harbour.get('/api/export/breakdowns.json')).body).toEqual(before);

    const again = await send();
    const rep = aRep({ id: factId(40), technique: 'fresh', edition: 1 });
    await harbour
      .post('/api/reps')
      .send({ reps: [rep] })
      .expect(200);
    const { body: begun } = await harbour
      .put('/api/techniques/broken/draft')
      .send({ revision: 1, edition: 1, edits: [{ path: ['draft', 'source'], value: 'mended here' }] })
      .expect(200);
    expect(begun.revision).toBe(2);
    expect((await back(again)).stays).toEqual([
      { what: 'Copy fresh, edition 1', reason: 'it has been drilled' },
    ]);
    expect((await harbour.get('/api/techniques/fresh')).body.editions).toHaveLength(1);
    expect((await harbour.get('/api/techniques/broken/draft')).body.draft.draft.source).toBe('mended here');
    expect((await harbour.get(address)).body.editions).toHaveLength(own.editions.length);
    // Nobody takes back what is another academy's.
    await hill.post('/api/import/breakdown/back').send(again).expect(200);
    expect((await harbour.get('/api/techniques/fresh')).body.editions).toHaveLength(1);
    await harbour.delete('/api/techniques/broken/draft').expect(200);
  });

  test('that are broken name the path and the reason, and keep nothing', async () => {
    const wrong = await hill
      .post('/api/import/breakdown')
      .send({ format: 'ulkret.breakdown/9', techniques: [] });
    expect(wrong.body.fault).toEqual({ path: 'format', reason: 'the format should be "ulkret.breakdown/2"' });
    const { body: file } = await hill.get('/api/export/breakdowns.json?technique=test-lock').expect(200);
    file.techniques[0].editions[0].checkpoints[0].after = ['c5'];
    const { body } = await hill.post('/api/import/breakdown').send(file).expect(200);
    expect(body.items[0]).toMatchObject({
      is: 'refused',
      faults: [
        { path: 'techniques[0].editions[0].checkpoints[0].after', reason: '"c5" does not come before "c1"' },
      ],
    });
  });

  test('have a schema that anybody may read', async () => {
    const { body } = await supertest(app).get('/api/schema/breakdown.json').expect(200);
    expect(body.title).toBe('ulkret.breakdown/2');
    expect(body.properties.techniques.type).toBe('array');
  });
});

describe('two who import the same at the same moment', () => {
  test('are both answered: what was kept is kept once, and nobody gets an error of ours', async () => {
    const file = (await hill.get('/api/export/breakdowns.json')).body as {
      techniques: { technique: { id: string }; editions: object[] }[];
    };
    const [one] = file.techniques;
    const renamed = JSON.parse(
      JSON.stringify({ ...file, techniques: [one] }).replaceAll(one!.technique.id, 'twin-lock'),
    ) as object;
    const statuses = await Promise.all(
      Array.from({ length: 4 }, async () => (await hill.post('/api/import/breakdown').send(renamed)).status),
    );
    expect(statuses).toContain(200);
    expect(statuses.every((status) => status === 200 || status === 409)).toBe(true);
    const { editions } = (await hill.get('/api/techniques/twin-lock').expect(200)).body as {
      editions: object[];
    };
    expect(editions).toHaveLength(one!.editions.length);
  });
});
