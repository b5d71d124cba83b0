import { existsSync } from 'node:fs';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { BackupFault, restoreBackup } from '@ulkret/server/keeping/backup';
import { connect, migrateForward } from '@ulkret/server/db/connect';
import { keepErased } from '@ulkret/server/keeping/tombstones';
import pg from 'pg';
import { checkReachable, defaultData, migrationsFolder, migrationsHere, takeLock } from './data-folder';
import { keysFor } from './house-key';
import { newestPrograms, startCluster } from './postgres';
import { Trouble } from './trouble';

const usage = `npm run restore -- FILE [--data DIR] [--key FILE]
  FILE        a backup of Ulkret
  --key FILE  the key of the house it is of, where it is in none of the usual places
  --data DIR  an empty data folder (default .data); DATABASE_URL in the environment, an empty database, is used instead where it is set`;

const half = 'ulkret_half_restored';

/** Restores a backup into an empty place, verifies it table by table, and brings it to what this program knows. */
export async function run(args: string[]): Promise<void> {
  let given;
  try {
    given = parseArgs({
      args,
      allowPositionals: true,
      options: { data: { type: 'string' }, key: { type: 'string' } },
    });
  } catch (error) {
    throw new Trouble(`${(error as Error).message}\n${usage}`);
  }
  const [from, ...others] = given.positionals;
  if (!from || others.length > 0) throw new Trouble(usage);
  const file = path.resolve(from);
  if (!existsSync(file)) throw new Trouble(`There is no file ${file}.`);
  const external = process.env['DATABASE_URL'];
  const undo: (() => void)[] = [];
  try {
    const folder = given.values.data ? path.resolve(given.values.data) : defaultData();
    const known = keysFor(file, folder, given.values.key);
    const { rows, again } = external
      ? await intoDatabase(file, external, known)
      : await intoFolder(file, folder, known, undo);
    if (again > 0) console.log(`${again} who were erased since it was made are erased again.`);
    console.log(`Restored and verified: ${rows} rows. Start Ulkret as usual.`);
  } catch (error) {
    if (error instanceof BackupFault) throw new Trouble(`Nothing was restored: ${error.message}`);
    throw error;
  } finally {
    for (const one of undo.reverse()) one();
  }
}

const rowsOf = (tables: Readonly<Record<string, { rows: number }>>): number =>
  Object.values(tables).reduce((sum, one) => sum + one.rows, 0);

type Known = ReturnType<typeof keysFor>;
interface Restored {
  rows: number;
  /** How many were erased again. */
  again: number;
}

/** Brings what was restored to what this program knows, and erases again who was erased since. */
async function finish(url: string, { erased }: Known): Promise<number> {
  await migrateForward(url, migrationsFolder);
  const { db, close } = connect(url, 2);
  return keepErased(db, erased).finally(close);
}

async function intoDatabase(file: string, url: string, known: Known): Promise<Restored> {
  await checkReachable(url);
  const { tables } = await restoreBackup({ url, bin: newestPrograms() }, file, {
    migrations: migrationsHere(),
    keys: known.keys,
  });
  return { rows: rowsOf(tables), again: await finish(url, known) };
}

/** Into a database of its own first: one that is killed half way leaves nothing that a start would take for whole. */
async function intoFolder(
  file: string,
  folder: string,
  known: Known,
  undo: (() => void)[],
): Promise<Restored> {
  undo.push(takeLock(folder));
  const cluster = await startCluster(folder);
  if (!cluster.ran) undo.push(() => cluster.stop());
  await cluster.ensureDatabase('ulkret');
  if (await holdsSomething(cluster.url('ulkret')))
    throw new Trouble(
      `There is something in ${folder} already: restore into an empty folder with --data, and nothing is lost.`,
    );
  await cluster.dropDatabase(half);
  await cluster.ensureDatabase(half);
  const url = cluster.url(half);
  const { tables } = await restoreBackup({ url, bin: cluster.bin }, file, {
    folder: path.join(folder, path.basename(file)),
    migrations: migrationsHere(),
    keys: known.keys,
  });
  const again = await finish(url, known);
  await cluster.dropDatabase('ulkret');
  await cluster.renameDatabase(half, 'ulkret');
  return { rows: rowsOf(tables), again };
}

async function holdsSomething(url: string): Promise<boolean> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    const { rows } = await client.query<{ academies: string | null }>(
      `select to_regclass('public.academies')::text as academies`,
    );
    if (!rows[0]?.academies) return false;
    return (await client.query('select 1 from academies limit 1')).rows.length > 0;
  } finally {
    await client.end();
  }
}
