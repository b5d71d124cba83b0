import { randomBytes } from 'node:crypto';
import { chmod, copyFile, mkdir, mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import pg from 'pg';
import supertest from 'supertest';
import { aRep, factId } from '../../core/test';
import { createServer } from '..';
import { connect, migrateForward } from '../db/connect';
import { anAcademy, settingsOf, signedIn, takeAll } from '../test/academy';
import { freshDatabase } from '../test/database';
import { makeBackup, restoreBackup } from './backup';
import { Keeper } from './keeper';
import { rotated } from './rotation';
import { newHouseKey } from './sealed';

const bin = process.env['TEST_PG_BIN'] ?? '';
const admin = process.env['TEST_DATABASE_URL'] ?? '';
const now = 1000;
const day = 86_400_000;
let key: string;

let database: Awaited<ReturnType<typeof freshDatabase>>;
let folder: string;
let made = 0;
const file = (name = `${++made}.backup`) => path.join(folder, name);
const at = (i: number) => new Date(Date.UTC(2026, 2, 5, 18, 0, i)).toISOString();
const reps = (from: number, n: number) =>
  Array.from({ length: n }, (_, i) => aRep({ id: factId(from + i), at: at(i), observer: 'coach' }));

const asAdmin = async (query: string) => {
  const client = new pg.Client({ connectionString: admin });
  await client.connect();
  await client.query(query).finally(() => client.end());
};
/** An empty database, gone when what is done with it is done. */
async function withEmpty<T>(act: (url: string) => Promise<T>): Promise<T> {
  const name = `restored_${randomBytes(5).toString('hex')}`;
  await asAdmin(`create database ${name}`);
  try {
    return await act(admin.replace(/\/[^/]*$/, `/${name}`));
  } finally {
    await asAdmin(`drop database ${name} with (force)`);
  }
}
const count = async (url: string, table: string): Promise<number> => {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  const { rows } = await client.query<{ n: number }>(`select count(*)::int as n from ${table}`);
  await client.end();
  return rows[0]!.n;
};
const back = (url: string, from: string, migrations = now) =>
  restoreBackup({ url, bin }, from, { folder: file('x'), migrations, keys: [key] });

beforeAll(async () => {
  database = await freshDatabase();
  key = await newHouseKey();
  await anAcademy(database.db, 'harbour');
  await takeAll(database.db, 'harbour', { reps: reps(1, 40) });
  folder = await mkdtemp(path.join(os.tmpdir(), 'ulkret-backups-'));
});
afterAll(async () => {
  await database.drop();
  await rm(folder, { recursive: true, force: true });
});

describe('a backup', () => {
  test('holds what there was at one instant, while others write on, and comes back the same', async () => {
    let writing = true;
    let sent = 0;
    const writer = (async () => {
      while (writing) await takeAll(database.db, 'harbour', { reps: reps(1000 + 20 * sent++, 20) });
    })();
    const to = file();
    const manifest = await makeBackup({ url: database.owner, bin }, to, 'test', key);
    writing = false;
    await writer;
    const kept = manifest.tables['public.reps']!.rows;
    expect(kept).toBeGreaterThanOrEqual(40);
    expect((kept - 40) % 20).toBe(0);
    expect(await count(database.owner, 'reps')).toBe(40 + 20 * sent);
    await withEmpty(async (url) => {
      expect((await back(url, to)).tables).toEqual(manifest.tables);
      expect(await count(url, 'reps')).toBe(kept);
      // And it goes on: the same rep is known, another one comes in.
      const { db, close } = connect(url, 2);
      const answers = await takeAll(db, 'harbour', { reps: [...reps(1, 1), ...reps(900_000, 1)] });
      expect(answers.map(({ answer }) => answer)).toEqual(['known', 'accepted']);
      await close();
    });
  });

  test('that is damaged, breaks off, is something else, or is newer, is refused, and nothing comes in', async () => {
    const whole = file();
    await makeBackup({ url: database.owner, bin }, whole, 'test', key);
    const bytes = await readFile(whole);
    const wrong = async (content: Buffer | string, words: RegExp, migrations?: number) => {
      const one = file();
      await writeFile(one, content);
      await withEmpty(async (url) => {
        await expect(back(url, one, migrations)).rejects.toThrow(words);
        expect(await count(url, `pg_tables where schemaname = 'public'`)).toBe(0);
      });
    };
    const flipped = Buffer.from(bytes);
    flipped[Math.floor(bytes.length / 2)]! ^= 0xff;
    await wrong(flipped, /damaged|breaks off|incomplete/);
    await wrong(bytes.subarray(0, bytes.length - 2000), /damaged|breaks off|incomplete/);
    await wrong('not a backup at all', /not a backup of Ulkret/);
    await wrong(Buffer.concat([bytes, Buffer.from('more')]), /damaged|breaks off|incomplete/);
    await wrong(bytes, /made by a newer Ulkret/, 1);
    // A place where something is already is left as it is.
    await expect(back(database.owner, whole)).rejects.toThrow(/not empty/);
    // Nothing half made is left behind.
    expect((await readdir(folder)).filter((name) => name.startsWith('.'))).toEqual([]);
  });

  test('is sealed: nobody without the key of its house sees anything of it, and nothing lies open on the way', async () => {
    const one = file();
    await makeBackup({ url: database.owner, bin }, one, 'test', key);
    const bytes = await readFile(one);
    expect(bytes.subarray(0, 21).toString()).toBe('age-encryption.org/v1');
    for (const open of ['PGDMP', 'ulkret.backup', 'harbour', 'public.reps'])
      expect(bytes.includes(open)).toBe(false);
    const other = await newHouseKey();
    const withKeys = (keys: string[]) =>
      withEmpty((url) => restoreBackup({ url, bin }, one, { folder: file('x'), migrations: now, keys }));
    await expect(withKeys([])).rejects.toThrow(/sealed: give the key/);
    await expect(withKeys([other])).rejects.toThrow(/no key here opens it/);
    expect((await withKeys([other, key])).tables['public.reps']!.rows).toBeGreaterThan(0);
    // It lies open only where that is asked for.
    const plain = file();
    await makeBackup({ url: database.owner, bin }, plain, 'test', null);
    expect((await readFile(plain)).includes('PGDMP')).toBe(true);
    await withEmpty((url) => back(url, plain));
  });

  test('of every earlier release comes back, and goes on in this one', async () => {
    const releases = path.resolve('server/test/releases');
    // Whose each is, what they drill, how many of its thirty reps stand, and how many corrections they had agreed to: the oldest knew of none.
    const about = {
      '0.1.0-migration-4.backup': ['slipway', 'rear-strangle', 30, 0],
      '0.1.0-migration-15.backup': ['harbour', 'test-lock', 29, 1],
      '0.1.0-migration-17.backup': ['harbour', 'test-lock', 29, 1],
      '0.1.0-migration-18.backup': ['harbour', 'test-lock', 29, 1],
    } as const;
    expect((await readdir(releases)).sort()).toEqual(Object.keys(about).sort());
    for (const [name, [academy, technique, standing, agreed]] of Object.entries(about))
      await withEmpty(async (url) => {
        const { tables } = await back(url, path.join(releases, name));
        await migrateForward(url, path.resolve('server/db/migrations'));
        expect(await count(url, 'reps')).toBe(tables['public.reps']!.rows);
        const { db, close } = connect(url, 2);
        const head = await signedIn(createServer(db, settingsOf(db)), academy);
        expect((await head.get('/api/export/facts.json').expect(200)).body.reps).toHaveLength(30);
        expect((await head.get('/api/set-aside').expect(200)).body).toMatchObject({ items: [] });
        const { body } = await head.get(`/api/rates?technique=${technique}&weeks=0&method=full`).expect(200);
        expect(body.students.reduce((sum: number, one: { reps: number }) => sum + one.reps, 0)).toBe(
          standing,
        );
        expect((await head.get('/api/prescriptions')).body.prescriptions).toHaveLength(agreed);
        await head.get('/api/kit').expect(200);
        await head.get('/api/techniques').expect(200);
        await close();
      });
  });
});

describe('the keeper', () => {
  test('makes one, tries it, says what went wrong, and tells health', async () => {
    const own = file('kept');
    const keeper = new Keeper({ url: database.owner, bin }, own, 'test', now, null, key);
    const app = createServer(database.db, settingsOf(database.db, { keeper }));
    const head = await signedIn(app, 'harbour');
    const { body } = await head.post('/api/keeping/backups').expect(200);
    const [one] = body.kept.backups;
    expect(body.wrong).toEqual([]);
    const tried = await head.post(`/api/keeping/backups/${one.name}/try`).expect(200);
    expect(tried.body.rows).toBeGreaterThan(40);
    await head.post('/api/keeping/backups/..%2Fother/try').expect(422);
    // A disk that takes nothing any more: the backup before stays, and everybody who looks is told.
    await copyFile(path.join(own, one.name), path.join(own, 'ulkret-2020-01-01T00-00-00Z.backup'));
    const broken = new Keeper({ url: database.owner, bin: '/nowhere' }, own, 'test', now, null, key);
    const other = createServer(database.db, settingsOf(database.db, { keeper: broken }));
    const refused = await (await signedIn(other, 'harbour')).post('/api/keeping/backups').expect(422);
    expect(refused.body.error).toMatch(/pg_dump is not on this machine/);
    const health = (await supertest(other).get('/api/health').expect(200)).body;
    expect(health).toMatchObject({ status: 'trouble', wrong: [expect.stringMatching(/pg_dump/)] });
    expect((await broken.backups()).map(({ name }) => name)).toContain(one.name);
    // Only what it makes itself is ever thrown away.
    await writeFile(path.join(own, 'mine.txt'), 'mine');
    await keeper.make();
    expect(await readdir(own)).toContain('mine.txt');
    await keeper.close();
  });

  test('goes by when one was made, and not by the clock: one that jumped a year and back ends nothing', async () => {
    const own = file('jumped');
    const clock = { at: Date.UTC(2026, 2, 5, 18), ran: 0 };
    const move = (ms: number, ranMs = 0) => {
      clock.at += ms;
      clock.ran += ranMs;
    };
    const clocks = { wall: () => clock.at, steady: () => clock.ran };
    const keeper = new Keeper({ url: database.owner, bin }, own, 'test', now, null, key, clocks);
    const made = async () => (await keeper.backups()).map(({ madeAt }) => madeAt.slice(0, 10));
    await keeper.check();
    await keeper.check();
    expect(await made()).toEqual(['2026-03-05']);
    const [first] = await keeper.backups();
    expect(first!.triedAt).not.toBeNull();
    move(365 * day);
    await keeper.check();
    move(-365 * day + day, day);
    expect(await keeper.wrong()).toMatch(/dated 2027-03-05, which is still to come/);
    await keeper.check();
    expect((await made())[0]).toBe('2026-03-06');
    expect(await keeper.wrong()).toBeNull();
    for (let i = 0; i < 3; i++) {
      move(day, day);
      await keeper.check();
    }
    expect((await made()).slice(0, 4)).toEqual(['2026-03-09', '2026-03-08', '2026-03-07', '2026-03-06']);
    // No new one for more than a day is said within the day.
    move(day + 3 * 3_600_000, day);
    expect(await keeper.wrong()).toBe('Last backup: 2026-03-09.');
    // A month later one is restored and compared on its own.
    move(31 * day, 31 * day);
    await keeper.check();
    expect((await keeper.backups())[0]!.triedAt!.slice(0, 10)).toBe(
      new Date(clock.at).toISOString().slice(0, 10),
    );
  }, 60_000);

  test('knows a backup or a list that was changed, and sweeps up what an end in the middle has left', async () => {
    const own = file('swept');
    const keeper = new Keeper({ url: database.owner, bin }, own, 'test', now, null, key);
    const { name } = await keeper.make();
    await asAdmin('create database ulkret_try_leftover');
    await mkdir(path.join(own, '.ulkret-half'));
    await keeper.make();
    expect(await readdir(own)).not.toContain('.ulkret-half');
    await expect(asAdmin('drop database ulkret_try_leftover')).rejects.toThrow(/does not exist/);
    const list = path.join(own, 'backups.json');
    const before = await readFile(list, 'utf8');
    await writeFile(list, before.replace(/"bytes": \d+/, '"bytes": 1'));
    expect(await keeper.wrong()).toMatch(/list of the backups was changed/);
    await writeFile(list, before);
    expect(await keeper.wrong()).toBeNull();
    const changed = path.join(own, (await keeper.backups())[0]!.name);
    const bytes = await readFile(changed);
    bytes[bytes.length - 1]! ^= 1;
    await writeFile(changed, bytes);
    await expect(keeper.test(path.basename(changed))).rejects.toThrow(/not as it was made/);
    expect(await keeper.wrong()).toMatch(/could not be restored/);
    expect(name).not.toBe(path.basename(changed));
  }, 60_000);

  test('says so where the folder cannot be written to', async () => {
    const taken = file('taken');
    await writeFile(taken, 'a file, and no folder');
    const keeper = new Keeper({ url: database.owner, bin }, taken, 'test', now, null, key);
    await expect(keeper.make()).rejects.toThrow();
    await rm(taken);
    await mkdir(taken);
    await chmod(taken, 0o700);
    await keeper.make();
    expect(await keeper.wrong()).toBeNull();
  });

  test('keeps the latest of seven days, five weeks and six months', () => {
    const day = 86_400_000;
    const from = Date.UTC(2026, 0, 1, 3);
    const daily = Array.from({ length: 300 }, (_, i) => from + i * day);
    const stay = [...rotated(daily)].sort((a, b) => b - a).map((one) => (daily.at(-1)! - one) / day);
    expect(stay.slice(0, 7)).toEqual([0, 1, 2, 3, 4, 5, 6]);
    expect(stay.length).toBeLessThanOrEqual(18);
    expect(stay.at(-1)!).toBeGreaterThan(140);
    // Daily backups never delete one that is still wanted later.
    let held: number[] = [];
    for (const one of daily) held = [...rotated([...held, one])];
    expect(new Set(held)).toEqual(rotated(daily));
    expect(rotated([])).toEqual(new Set());
  });
});
