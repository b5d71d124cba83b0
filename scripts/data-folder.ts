import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import pg from 'pg';
import { newestPrograms, reachable, startCluster } from './postgres';
import { identityOf, isRunning } from './running';
import { Trouble } from './trouble';

export const migrationsFolder = path.resolve('server/db/migrations');

/** How many migrations this program knows. */
export const migrationsHere = (): number =>
  (
    JSON.parse(readFileSync(path.join(migrationsFolder, 'meta/_journal.json'), 'utf8')) as {
      entries: unknown[];
    }
  ).entries.length;

export const versionHere = (): string =>
  (JSON.parse(readFileSync('package.json', 'utf8')) as { version: string }).version;

/** The project's own folder, or one that the postgres user can reach where root started this in a closed place. */
export function defaultData(): string {
  const own = path.resolve('.data');
  if (process.getuid?.() !== 0 || reachable(own)) return own;
  return path.join('/var/lib/ulkret', path.resolve('.').replaceAll(path.sep, '-').slice(1));
}

/** One process per data folder. A lock left by a process that is gone is taken over, also where its number is another one's now. */
export function takeLock(folder: string): () => void {
  const file = path.join(folder, 'ulkret.pid');
  mkdirSync(folder, { recursive: true });
  const [number, identity] = existsSync(file) ? readFileSync(file, 'utf8').split(' ') : [];
  const other = Number(number);
  const isThere = identity ? identityOf(other) === identity : isRunning(other, 'run.mjs', 'start');
  if (other !== process.pid && isThere)
    throw new Trouble(
      `Another Ulkret (process ${other}) uses ${folder}: stop it, or choose another folder with --data.`,
    );
  writeFileSync(file, `${process.pid} ${identityOf(process.pid) ?? ''}`);
  return () => rmSync(file, { force: true });
}

export async function checkReachable(url: string): Promise<void> {
  const client = new pg.Client({ connectionString: url, connectionTimeoutMillis: 5000 });
  try {
    await client.connect();
    await client.end();
  } catch (error) {
    throw new Trouble(
      `The database of DATABASE_URL cannot be reached (${(error as Error).message || 'no answer'}): start it, or fix the address.`,
    );
  }
}

/** The database of a data folder, or of DATABASE_URL where it is named; `close` stops what was started for it. */
export async function storeOf(data: string | undefined): Promise<{
  url: string;
  bin: string;
  folder: string | null;
  close: () => void;
}> {
  const external = process.env['DATABASE_URL'];
  if (external) {
    await checkReachable(external);
    return { url: external, bin: newestPrograms(), folder: null, close: () => undefined };
  }
  const folder = data ? path.resolve(data) : defaultData();
  const cluster = await startCluster(folder);
  await cluster.ensureDatabase('ulkret');
  return {
    url: cluster.url('ulkret'),
    bin: cluster.bin,
    folder,
    close: () => (cluster.ran ? undefined : cluster.stop()),
  };
}
