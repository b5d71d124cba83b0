import { createHash } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { demoAcademy, demoSignIn } from '@ulkret/demo';
import { neutralRules } from '@ulkret/core/care';
import { factId } from '../core/test';
import type { SomeFacts } from '@ulkret/core/facts';
import { shippedDrills } from '@ulkret/core/drills';
import type { Express } from 'express';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { buffer } from 'node:stream/consumers';
import { promisify } from 'node:util';
import supertest from 'supertest';
import yauzl from 'yauzl';
import yazl from 'yazl';
import { hashPassword } from '@ulkret/server/access/secrets';
import { loadAcademy } from '@ulkret/server/keeping/academies';
import { password, settingsOf } from '@ulkret/server/test/academy';
import { freshDatabase } from '@ulkret/server/test/database';
import { createServer } from '@ulkret/server';
import type { ArchivedCoach, ArchiveManifest } from '@ulkret/server/transfers/archive';

type Agent = ReturnType<typeof supertest.agent>;
interface House {
  app: Express;
  database: Awaited<ReturnType<typeof freshDatabase>>;
  head: Agent;
}

async function enter(app: Express, email: string): Promise<Agent> {
  const agent = supertest.agent(app);
  await agent.post('/api/session').send({ email, password }).expect(200);
  return agent;
}

const { data } = demoAcademy(Date.now());
let slipway: House;
/** Another server, where Nina has made an academy with nobody in it. */
let quay: House;
let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(path.join(os.tmpdir(), 'ulkret-test-'));
  const passwordHash = await hashPassword(password);
  const open = async () => {
    const database = await freshDatabase();
    return { database, app: createServer(database.db, settingsOf(database.db)) };
  };
  const [there, here] = [await open(), await open()];
  await loadAcademy(
    there.database.db,
    { ...data, coaches: data.coaches.map((coach) => ({ ...coach, passwordHash })) },
    true,
  );
  await loadAcademy(
    here.database.db,
    {
      academy: { id: 'quay', name: 'Quay', zone: 'UTC' },
      // She has an id that somebody else has in the other house.
      coaches: [
        { id: data.coaches[1]!.id, name: 'Nina', email: 'nina@quay.example', passwordHash, role: 'head' },
      ],
      students: [],
      techniques: data.techniques.slice(0, 2),
      sessions: [],
      facts: {},
    },
    false,
  );
  slipway = { ...there, head: await enter(there.app, demoSignIn.email) };
  quay = { ...here, head: await enter(here.app, 'nina@quay.example') };
}, 60_000);
afterAll(async () => {
  await slipway.database.drop();
  await quay.database.drop();
  await rm(folder, { recursive: true });
});

const takeOut = async ({ head }: House): Promise<Buffer> =>
  (await head.get('/api/export/academy.zip').responseType('blob').expect(200)).body as Buffer;
const bring = ({ head }: House, archive: Buffer) =>
  head.post('/api/import/academy').type('application/zip').send(archive);

/** The texts in a zip by their names. */
async function textsIn(archive: Buffer): Promise<Map<string, string>> {
  const file = path.join(folder, 'looked-at');
  await writeFile(file, archive);
  const zip = await promisify<string, yauzl.Options, yauzl.ZipFile>(yauzl.open)(file, { lazyEntries: true });
  const texts = new Map<string, string>();
  zip.readEntry();
  await new Promise<void>((resolve, reject) => {
    zip.on('end', resolve).on('error', reject);
    zip.on('entry', (entry: yauzl.Entry) =>
      zip.openReadStream(entry, (error, stream) => {
        if (error) return reject(error);
        const parts: Buffer[] = [];
        stream.on('data', (part: Buffer) => parts.push(part));
        stream.on('end', () => {
          texts.set(entry.fileName, Buffer.concat(parts).toString());
          zip.readEntry();
        });
      }),
    );
  });
  return texts;
}
/** An archive of these texts, whose manifest is right whatever they say. */
async function zipOf(texts: Map<string, string>): Promise<Buffer> {
  const manifest = manifestOf(texts);
  for (const name of Object.keys(manifest.files)) {
    const text = texts.get(name)!;
    manifest.files[name] = {
      items: Math.max(0, text.split('\n').length - 3),
      sha256: createHash('sha256').update(text).digest('hex'),
    };
  }
  const zip = new yazl.ZipFile();
  for (const [name, text] of texts)
    zip.addBuffer(Buffer.from(name === 'manifest.json' ? JSON.stringify(manifest) : text), name);
  zip.end();
  return buffer(zip.outputStream);
}
const manifestOf = (texts: Map<string, string>) => JSON.parse(texts.get('manifest.json')!) as ArchiveManifest;

describe('a whole academy', () => {
  test('goes out as an open archive and comes into an empty one, exactly', async () => {
    const { head, database } = slipway;
    const set = { rules: { ...neutralRules, name: 'Our own' }, revision: 0 };
    await head.put('/api/rules').send(set).expect(200);
    await head
      .put(`/api/students/amara/notes/${factId(42)}`)
      .send({ words: 'Listens best when shown.', seenBy: 'coaches' })
      .expect(200);
    await head
      .put('/api/drills/ours')
      .send({ ...shippedDrills[0], id: 'ours', title: 'Ours' })
      .expect(200);
    await head
      .put('/api/positions/our-seat')
      .send({ id: 'our-seat', name: 'Our seat', aliases: [], family: null, ahead: null })
      .expect(200);
    await head
      .put('/api/pieces/our-grip')
      .send({ id: 'our-grip', kind: 'grip', title: 'Our grip', criterion: 'Closed.', proofs: [] })
      .expect(200);
    const one = data.techniques[0]!;
    const draft = { technique: one.technique, draft: one.editions.at(-1)! };
    await head
      .put(`/api/techniques/${one.technique.id}/draft`)
      .send({ revision: 0, edition: draft.draft.edition, edits: [{ path: [], value: draft }] })
      .expect(200);
    await database.pool.query(
      "update reps set at = '0026-01-01' where id = (select id from reps order by id limit 1)",
    );

    const out = await takeOut(slipway);
    const texts = await textsIn(out);
    expect(texts.get('README.txt')).toContain(data.academy.name);
    expect(JSON.parse(texts.get('set-aside.json')!)).toHaveLength(1);
    expect([...texts.values()].join('')).not.toContain('argon2');
    const { files } = manifestOf(texts);
    expect(files['people.json']!.items).toBe(data.students.length);
    for (const list of ['reps', 'voids', 'tags', 'looks', 'notes', 'overrides', 'changes', 'steps'] as const)
      expect([list, files[`facts/${list}.json`]!.items]).toEqual([
        list,
        ((data.facts as SomeFacts)[list]?.length ?? 0) - (list === 'reps' ? 1 : 0),
      ]);

    const { body } = await bring(quay, out).expect(200);
    const told = body as { name: string; items: Record<string, number>; withoutEmail: string[] };
    expect(told).toMatchObject({ name: data.academy.name, withoutEmail: [] });
    expect(told.items).toMatchObject({ people: data.students.length, rules: 1, drafts: 1, drills: 1 });
    const again = await textsIn(await takeOut(quay));
    const back = manifestOf(again).files;
    for (const [name, file] of Object.entries(files))
      if (name !== 'coaches.json') expect([name, back[name]]).toEqual([name, file]);
    const rates = '/api/rates?technique=rear-strangle&method=plain';
    const read = async (house: House) => {
      const { settings: _, ...rest } = (await house.head.get(rates).expect(200)).body as object & {
        settings: unknown;
      };
      return rest;
    };
    expect(await read(quay)).toEqual(await read(slipway));

    // Nina is still here, under an id that is nobody else's; the others are here by name, and come in by an invitation.
    const coaches = JSON.parse(again.get('coaches.json')!) as ArchivedCoach[];
    expect(coaches).toHaveLength(data.coaches.length + 1);
    const nina = coaches.find(({ name }) => name === 'Nina')!;
    expect(data.coaches.map(({ id }) => id)).not.toContain(nina.id);
    expect(nina.closedAt).toBeNull();
    const [theirs] = data.coaches;
    expect(coaches.find(({ id }) => id === theirs!.id)!.closedAt).not.toBeNull();
    await supertest(quay.app).post('/api/session').send({ email: theirs!.email, password }).expect(401);
    // An email proves nothing: a link for somebody else does not make one of the person who types it.
    const other = await quay.head.post('/api/invitations').send({ role: 'assistant', name: 'Sly' });
    await supertest(quay.app)
      .post('/api/invitations/accept')
      .send({
        secret: (other.body as { secret: string }).secret,
        name: 'Sly',
        email: theirs!.email,
        password: 'heron lantern sixty-one',
      })
      .expect(409);
    const invited = await quay.head
      .post('/api/invitations')
      .send({ role: 'coach', name: theirs!.name, coach: theirs!.id });
    const { secret } = invited.body as { secret: string };
    const came = await supertest(quay.app)
      .post('/api/invitations/accept')
      .send({ secret, name: theirs!.name, email: theirs!.email, password: 'heron lantern sixty-one' })
      .expect(200);
    expect((came.body as { coach: { id: string } }).coach.id).toBe(theirs!.id);
  }, 120_000);

  test('is refused, and nothing kept, where it is broken, changed, or somebody is here already', async () => {
    const out = await takeOut(slipway);
    const before = await takeOut(quay);
    const refused = async (archive: Buffer) =>
      ((await bring(quay, archive).expect(422)).body as { error: string; todo: string }).error;
    expect(await refused(out)).toMatch(/already has people on its roster/);
    for (const table of [
      'cause_tags',
      'second_looks',
      'voids',
      'care_notes',
      'overrides',
      'changes',
      'steps',
      'tallies',
      'stale_weeks',
      'person_notes',
      'reps',
      'sessions',
      'students',
    ])
      await quay.database.pool.query(`delete from ${table}`);
    expect(await refused(Buffer.from('no zip at all'))).toMatch(/not an archive/);
    expect(await refused(out.subarray(0, out.length - 2000))).toMatch(/not an archive/);
    const middle = Buffer.from(out);
    middle.fill(7, out.length >> 1, (out.length >> 1) + 64);
    expect(await refused(middle)).toMatch(/not an archive|damaged/);
    const texts = await textsIn(out);
    const withText = async (name: string, change: (text: string) => string) =>
      refused(await zipOf(new Map(texts).set(name, change(texts.get(name)!))));
    // A form could not say any of this, so an archive cannot either: each fault names its line.
    expect(
      await withText('academy.json', (text) => text.replace(/"zone":"[^"]*"/, '"zone":"Nowhere/Bad"')),
    ).toMatch(/^academy.json, line 2, .*zone/);
    expect(await withText('people.json', (text) => text.replace('"Bastian"', '"Bas\\u0000tian"'))).toMatch(
      /^people.json, line 3, .*NUL/,
    );
    const twice = (text: string) => text.replace(/\n(.*),\n/, '\n$1,\n$1,\n');
    expect(await withText('people.json', twice)).toMatch(/^It is damaged: people.json has “amara” twice/);
    expect(await withText('facts/reps.json', twice)).toMatch(/facts\/reps.json has an id twice/);
    expect(await withText('techniques.json', () => '[\n\n]\n')).toMatch(
      /^It is damaged: editions.json names the technique “[^”]+”, which is not in it/,
    );
    const bomb = `[\n${'x'.repeat(20_000_000)}`;
    expect(await withText('drills.json', () => bomb)).toBe(
      'drills.json, line 2, is longer than anything that an academy has.',
    );
    expect(await withText('drills.json', () => `[\n${'['.repeat(5000)}\n]`)).toMatch(
      /line 2, .*deeper than 1000/,
    );
    expect((await quay.head.get('/api/students').expect(200)).body).toEqual({ students: [] });
    expect((await bring(quay, before).expect(200)).body).toMatchObject({
      items: { people: data.students.length },
    });
  }, 120_000);

  test('is for the head coach alone', async () => {
    const { body } = await slipway.head.post('/api/invitations').send({ role: 'coach', name: 'Lou' });
    const lou = supertest.agent(slipway.app);
    const { secret } = body as { secret: string };
    await lou
      .post('/api/invitations/accept')
      .send({ secret, name: 'Lou', email: 'lou@slipway.example', password: 'heron lantern sixty-one' })
      .expect(200);
    await lou.get('/api/export/academy.zip').expect(403);
    await lou.post('/api/import/academy').type('application/zip').send('x').expect(403);
  });
});
