import { type ChildProcess, spawn } from 'node:child_process';
import { createReadStream, createWriteStream } from 'node:fs';
import { open, readdir, readFile, rename, rm } from 'node:fs/promises';
import path from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import pg from 'pg';
import { z } from 'zod';
import { inFolder, sha256Of, unpack } from '../files';
import { type HouseKey, opened, sealed, sealMark } from './sealed';

/** How many rows a table has, and a hash of all of them that does not depend on their order. */
const TableDigest = z.object({ rows: z.int().min(0), hash: z.string() });
type TableDigest = z.infer<typeof TableDigest>;

/** What a backup says of itself: when it was made and of what, so that it can be verified wherever it is restored. */
const said = {
  version: z.string(),
  madeAt: z.iso.datetime(),
  /** Migrations that its database had gone through. */
  migrations: z.int().min(0),
  tables: z.record(z.string(), TableDigest),
};
/** In a zip with the dump, as earlier releases made it. */
const ZippedManifest = z.object({
  format: z.literal('ulkret.backup/1'),
  ...said,
  dump: z.object({ bytes: z.int().min(0), sha256: z.string() }),
});
/** The first line of a file, before the dump. */
export const Manifest = z.object({ format: z.literal('ulkret.backup/2'), ...said });
export type Manifest = z.infer<typeof Manifest>;

/** A fault of a backup that the server's admin can fix. */
export class BackupFault extends Error {
  override name = 'BackupFault';
}

/** Where a database is, and where PostgreSQL's programs are. */
export interface Store {
  url: string;
  bin: string;
}

const manifestName = 'manifest.json';
const dumpName = 'database.dump';

/** How PostgreSQL's programs find a database: by their environment, because anybody may read the arguments of a process. */
function environmentOf(url: string): NodeJS.ProcessEnv {
  const { hostname, port, username, password, pathname, searchParams } = new URL(url);
  return {
    ...process.env,
    PGHOST: decodeURIComponent(hostname),
    PGPORT: port || '5432',
    PGUSER: decodeURIComponent(username),
    PGPASSWORD: decodeURIComponent(password),
    PGDATABASE: decodeURIComponent(pathname.slice(1)),
    PGSSLMODE: searchParams.get('sslmode') ?? 'prefer',
  };
}

/**
 * Runs one of PostgreSQL's programs, with what it reads from `stdin` or writes to `stdout`; settles once it has ended. Throws with the
 * last line of what it said where it failed.
 */
function begin(
  { url, bin }: Store,
  program: string,
  args: readonly string[],
  uses: 'stdin' | 'stdout',
): { child: ChildProcess; ended: Promise<void> } {
  const child = spawn(path.join(bin, program), args, {
    env: environmentOf(url),
    stdio: [uses === 'stdin' ? 'pipe' : 'ignore', uses === 'stdout' ? 'pipe' : 'ignore', 'pipe'],
  });
  let complaint = '';
  child.stderr!.on('data', (part: Buffer) => (complaint = (complaint + part.toString()).slice(-4000)));
  const ended = new Promise<void>((resolve, reject) => {
    child.once('error', () =>
      reject(new BackupFault(`${program} is not on this machine: install PostgreSQL’s client programs.`)),
    );
    child.once('close', (code) => {
      const last = complaint.trim().split('\n').at(-1) ?? '';
      if (code === 0) resolve();
      else reject(new BackupFault(`${program} gave up: ${last || `it ended with ${code}`}`));
    });
  });
  // It is waited for later.
  ended.catch(() => undefined);
  return { child, ended };
}

/** Rows and hash of every table, as one snapshot sees them. */
async function digestsOf(client: pg.Client): Promise<Record<string, TableDigest>> {
  await client.query(`set local timezone = 'UTC'`);
  const { rows: tables } = await client.query<{ name: string }>(
    `select format('%I.%I', schemaname, tablename) as name from pg_tables
     where schemaname in ('public', 'drizzle') order by 1`,
  );
  const digests: Record<string, TableDigest> = {};
  for (const { name } of tables) {
    const { rows } = await client.query<{ n: string; hash: string }>(
      `select count(*)::text as n,
         md5(coalesce(sum(('x' || substr(md5(t::text), 1, 16))::bit(64)::bigint::numeric), 0)::text) as hash
       from ${name} t`,
    );
    digests[name] = { rows: Number(rows[0]!.n), hash: rows[0]!.hash };
  }
  return digests;
}

const migrationsTable = 'drizzle.__drizzle_migrations';

/** Reads a database at one instant: later writes are not seen. */
async function atOneInstant<T>(url: string, look: (client: pg.Client) => Promise<T>): Promise<T> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    await client.query('begin isolation level repeatable read read only');
    const seen = await look(client);
    await client.query('commit');
    return seen;
  } finally {
    await client.end();
  }
}

/** A folder next to a file for half-made work. */
const besides = <T>(file: string, make: (folder: string) => Promise<T>): Promise<T> =>
  inFolder(path.join(path.dirname(file), '.ulkret-'), make);

/** Leftovers of an interrupted backup or restore next to a file. */
export async function sweep(folder: string): Promise<void> {
  for (const name of await readdir(folder))
    if (name.startsWith('.ulkret-')) await rm(path.join(folder, name), { recursive: true, force: true });
}

/**
 * Writes everything that a database holds at one instant to a file: a line that counts and hashes every table, and PostgreSQL's own
 * dump, sealed with the key of the house; without one it lies open. Others keep writing. Nothing of it lies anywhere in between, and the
 * file is complete, or not there. Throws a `BackupFault`.
 */
export const makeBackup = (
  store: Store,
  file: string,
  version: string,
  key: HouseKey | null,
): Promise<Manifest> =>
  besides(file, (folder) =>
    atOneInstant(store.url, async (client) => {
      const madeAt = new Date().toISOString();
      const { rows } = await client.query<{ snapshot: string }>('select pg_export_snapshot() as snapshot');
      const tables = await digestsOf(client);
      const manifest: Manifest = {
        format: 'ulkret.backup/2',
        version,
        madeAt,
        migrations: tables[migrationsTable]?.rows ?? 0,
        tables,
      };
      const args = ['--format=custom', '--no-owner', '--no-privileges', `--snapshot=${rows[0]!.snapshot}`];
      const { child, ended } = begin(store, 'pg_dump', args, 'stdout');
      const whole = Readable.from(after(`${JSON.stringify(manifest)}\n`, child.stdout!, ended));
      const half = path.join(folder, 'half');
      await pipeline(
        key === null ? whole : await sealed(whole, key),
        createWriteStream(half, { mode: 0o600 }),
      );
      const handle = await open(half, 'r+');
      await handle.sync();
      await handle.close();
      await rename(half, file);
      return manifest;
    }),
  );

/** A line, and what a program writes after it; it breaks off where the program does. */
async function* after(line: string, from: Readable, ended: Promise<void>): AsyncGenerator<Uint8Array> {
  yield Buffer.from(line);
  for await (const part of from) yield part as Uint8Array;
  await ended;
}

const longestManifest = 1_000_000;
const noBackup = () => new BackupFault('It is not a backup of Ulkret, or it is incomplete: use another one.');

/** Splits what a backup says of itself from the dump after it. */
async function manifestBefore(from: Readable): Promise<{ manifest: Manifest; dump: Readable }> {
  const parts = from[Symbol.asyncIterator]() as AsyncIterator<Uint8Array>;
  let head = Buffer.alloc(0);
  let end = -1;
  while (end < 0) {
    const { done, value } = await parts.next();
    if (done || head.length > longestManifest) throw noBackup();
    head = Buffer.concat([head, value]);
    end = head.indexOf(0x0a);
  }
  const parsed = Manifest.safeParse(safely(head.subarray(0, end).toString()));
  if (!parsed.success) throw noBackup();
  const rest = head.subarray(end + 1);
  const dump = async function* () {
    yield rest;
    for (let next = await parts.next(); !next.done; next = await parts.next()) yield next.value;
  };
  return { manifest: parsed.data, dump: Readable.from(dump()) };
}

function safely(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}

type Restored = Omit<Manifest, 'format'>;

/** The dump of a backup that an earlier release has made, unpacked into a folder. */
async function zipped(file: string, folder: string): Promise<{ manifest: Restored; dump: Readable }> {
  await unpack(file, folder, [manifestName, dumpName]).catch(() => {
    throw noBackup();
  });
  const text = await readFile(path.join(folder, manifestName), 'utf8').catch(() => '');
  const parsed = ZippedManifest.safeParse(safely(text));
  if (!parsed.success) throw noBackup();
  const dump = path.join(folder, dumpName);
  if ((await sha256Of(dump).catch(() => '')) !== parsed.data.dump.sha256)
    throw new BackupFault('It is damaged: its dump was changed. Use another backup.');
  return { manifest: parsed.data, dump: createReadStream(dump) };
}

/** What a backup says of itself, and the dump after it, whatever release has made it. */
async function readBackup(file: string, folder: string, keys: readonly HouseKey[]) {
  const handle = await open(file, 'r');
  const { buffer: start } = await handle.read({ buffer: Buffer.alloc(sealMark.length), position: 0 });
  await handle.close();
  if (start.subarray(0, 2).toString() === 'PK') return zipped(file, folder);
  if (start.toString() !== sealMark) return manifestBefore(createReadStream(file));
  if (keys.length === 0)
    throw new BackupFault('It is sealed: give the key of the house that it is of with --key.');
  const content = await opened(createReadStream(file), keys).catch(() => {
    throw new BackupFault('It is sealed, and no key here opens it: give that of its house with --key.');
  });
  return manifestBefore(content).catch(() => {
    throw noBackup();
  });
}

/** Restores a backup into an empty database and verifies every table against what it says of itself. Throws a `BackupFault`. */
export const restoreBackup = (
  store: Store,
  file: string,
  {
    folder: beside = file,
    migrations,
    keys = [],
  }: { folder?: string; migrations: number; keys?: readonly HouseKey[] },
): Promise<Restored> =>
  besides(beside, async (folder) => {
    const { manifest, dump } = await readBackup(file, folder, keys);
    dump.on('error', () => undefined);
    if (manifest.migrations > migrations)
      throw new BackupFault(
        `It was made by a newer Ulkret (${manifest.version}): update this one, and restore it then.`,
      );
    const held = await atOneInstant(store.url, digestsOf);
    if (Object.keys(held).length > 0)
      throw new BackupFault('The database is not empty: restore a backup into an empty one only.');
    const args = ['--exit-on-error', '--single-transaction', '--no-owner', '--no-privileges'];
    const into = `--dbname=${new URL(store.url).pathname.slice(1)}`;
    const { child, ended } = begin(store, 'pg_restore', [...args, into], 'stdin');
    let whole = true;
    await pipeline(dump, child.stdin!).catch(() => {
      whole = false;
      // What it has read so far is one transaction that was never ended.
      child.kill('SIGKILL');
    });
    await ended.catch((error: Error) => {
      throw whole ? error : new BackupFault('It is damaged, or breaks off: use another backup.');
    });
    const now = await atOneInstant(store.url, digestsOf);
    const wrong = [...new Set([...Object.keys(manifest.tables), ...Object.keys(now)])].filter(
      (table) =>
        now[table]?.rows !== manifest.tables[table]?.rows ||
        now[table]?.hash !== manifest.tables[table]?.hash,
    );
    if (wrong.length > 0)
      throw new BackupFault(
        `The restored data differ from the backup in ${wrong.join(', ')}: use another backup.`,
      );
    return manifest;
  });
