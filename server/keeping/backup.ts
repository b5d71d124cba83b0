import { spawn } from 'node:child_process';
import { createWriteStream } from 'node:fs';
import { open, readdir, readFile, rename, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import pg from 'pg';
import yazl from 'yazl';
import { z } from 'zod';
import { inFolder, sha256Of, unpack } from '../files';

/** How many rows a table has, and a hash of all of them that does not depend on their order. */
const TableDigest = z.object({ rows: z.int().min(0), hash: z.string() });
type TableDigest = z.infer<typeof TableDigest>;

/** What a backup says of itself: when it was made and of what, so that it can be verified wherever it is restored. */
export const Manifest = z.object({
  format: z.literal('ulkret.backup/1'),
  version: z.string(),
  madeAt: z.iso.datetime(),
  /** Migrations that its database had gone through. */
  migrations: z.int().min(0),
  dump: z.object({ bytes: z.int().min(0), sha256: z.string() }),
  tables: z.record(z.string(), TableDigest),
});
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

/** Runs one of PostgreSQL's programs to its end. Throws with the last line of what it said where it failed. */
async function call({ url, bin }: Store, program: string, args: readonly string[]): Promise<void> {
  const child = spawn(path.join(bin, program), args, {
    env: environmentOf(url),
    stdio: ['ignore', 'ignore', 'pipe'],
  });
  let said = '';
  child.stderr.on('data', (part: Buffer) => (said = (said + part.toString()).slice(-4000)));
  const code = await new Promise<number | null>((resolve, reject) => {
    child.once('error', () =>
      reject(new BackupFault(`${program} is not on this machine: install PostgreSQL’s client programs.`)),
    );
    child.once('close', resolve);
  });
  if (code !== 0) {
    const last = said.trim().split('\n').at(-1) ?? '';
    throw new BackupFault(`${program} gave up: ${last || `it ended with ${code}`}`);
  }
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
 * Writes everything that a database holds at one instant to a file: PostgreSQL's own dump, and a manifest that counts
 * and hashes every table. Others keep writing. The file is complete, or not there. Throws a `BackupFault`.
 */
export const makeBackup = (store: Store, file: string, version: string): Promise<Manifest> =>
  besides(file, async (folder) => {
    const dump = path.join(folder, dumpName);
    const madeAt = new Date().toISOString();
    const tables = await atOneInstant(store.url, async (client) => {
      const { rows } = await client.query<{ snapshot: string }>('select pg_export_snapshot() as snapshot');
      await call(store, 'pg_dump', [
        '--format=custom',
        '--no-owner',
        '--no-privileges',
        `--snapshot=${rows[0]!.snapshot}`,
        `--file=${dump}`,
      ]);
      return digestsOf(client);
    });
    const manifest: Manifest = {
      format: 'ulkret.backup/1',
      version,
      madeAt,
      migrations: tables[migrationsTable]?.rows ?? 0,
      dump: { bytes: (await stat(dump)).size, sha256: await sha256Of(dump) },
      tables,
    };
    const half = path.join(folder, 'half.zip');
    const zip = new yazl.ZipFile();
    zip.addBuffer(Buffer.from(JSON.stringify(manifest, null, 2)), manifestName);
    zip.addFile(dump, dumpName, { compress: false });
    zip.end();
    await pipeline(zip.outputStream, createWriteStream(half, { mode: 0o600 }));
    const handle = await open(half, 'r+');
    await handle.sync();
    await handle.close();
    await rename(half, file);
    return manifest;
  });

async function manifestIn(folder: string): Promise<Manifest> {
  const text = await readFile(path.join(folder, manifestName), 'utf8').catch(() => '');
  const parsed = Manifest.safeParse(text === '' ? null : JSON.parse(text));
  if (!parsed.success) throw new BackupFault('It is not a backup of Ulkret: it has no readable manifest.');
  return parsed.data;
}

/** Restores a backup into an empty database and verifies every table against its manifest. Throws a `BackupFault`. */
export const restoreBackup = (
  store: Store,
  file: string,
  { folder: beside = file, migrations }: { folder?: string; migrations: number },
): Promise<Manifest> =>
  besides(beside, async (folder) => {
    await unpack(file, folder, [manifestName, dumpName]).catch(() => {
      throw new BackupFault('It is not a backup of Ulkret, or it is incomplete: use another one.');
    });
    const manifest = await manifestIn(folder);
    if (manifest.migrations > migrations)
      throw new BackupFault(
        `It was made by a newer Ulkret (${manifest.version}): update this one, and restore it then.`,
      );
    const dump = path.join(folder, dumpName);
    const is = await sha256Of(dump).catch(() => '');
    if (is !== manifest.dump.sha256)
      throw new BackupFault('It is damaged: its dump was changed. Use another backup.');
    const held = await atOneInstant(store.url, digestsOf);
    if (Object.keys(held).length > 0)
      throw new BackupFault('The database is not empty: restore a backup into an empty one only.');
    await call(store, 'pg_restore', [
      '--exit-on-error',
      '--single-transaction',
      '--no-owner',
      '--no-privileges',
      `--dbname=${new URL(store.url).pathname.slice(1)}`,
      dump,
    ]);
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
