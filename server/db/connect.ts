import type { Socket } from 'node:net';
import { sql } from 'drizzle-orm';
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import { readMigrationFiles } from 'drizzle-orm/migrator';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import pg from 'pg';
import * as schema from './schema';
import { PoolWithin } from './within';

export type Db = NodePgDatabase<typeof schema>;

/** A connection is kept through a pause between two rounds: opening one costs more than a batch of reps. */
const idleTimeoutMillis = 600_000;

/**
 * A longer statement hangs: it is ended, and the caller is asked to try again. Locks are held for parts of a second.
 */
const limits = {
  lock_timeout: 8000,
  statement_timeout: 30_000,
  idle_in_transaction_session_timeout: 30_000,
};
/** Longest wait for a free connection. */
const connectionTimeoutMillis = 5000;

/** A database on a pool. */
export interface Connected {
  db: Db;
  pool: pg.Pool;
  /** Breaks every connection off, so that nobody waits for a database that does not answer. */
  breakOff(): void;
  close(): Promise<void>;
}

/** Opens a pool on a PostgreSQL URL. */
export function connect(url: string, most = 10, waitMs = connectionTimeoutMillis): Connected {
  const pool = new PoolWithin({
    connectionString: url,
    max: most,
    idleTimeoutMillis,
    connectionTimeoutMillis: waitMs,
    ...limits,
  });
  // A connection that breaks while idle is replaced by the pool; the next query tells of a database that is gone.
  pool.on('error', () => undefined);
  // One that breaks while it is used fails its query; without a listener it would end the whole process as well.
  const open = new Set<pg.PoolClient>();
  pool.on('connect', (client) => {
    client.on('error', () => undefined);
    open.add(client);
  });
  pool.on('remove', (client) => open.delete(client));
  // Its own end would say good-bye first, and wait for a server that does not listen.
  const breakOff = () => {
    for (const client of open)
      (client as unknown as { connection: { stream: Socket } }).connection.stream.destroy();
  };
  return { db: withoutLeaks(pool), pool, breakOff, close: () => pool.end() };
}

/**
 * A database on a pool whose transactions always give their connection back. Drizzle takes one before its `try`, so that a
 * connection that breaks at BEGIN would be lost to the pool for good; here a broken one is thrown away, and a new one is opened.
 */
function withoutLeaks(pool: pg.Pool): Db {
  const db = drizzle(pool, { schema });
  db.transaction = async (run, config) => {
    const client = await pool.connect();
    let broken: Error | undefined;
    const onError = (error: Error) => (broken = error);
    client.on('error', onError);
    try {
      return await drizzle(client, { schema }).transaction(run, config);
    } catch (error) {
      if (isOfTheConnection(error)) broken ??= error as Error;
      throw error;
    } finally {
      client.off('error', onError);
      client.release(broken);
    }
  };
  return db;
}

/** Does an error say that the connection itself is gone (SQLSTATE 08 and 57P, or the socket's own)? */
export function isOfTheConnection(error: unknown): boolean {
  const { code, message, cause } = error as Partial<
    Error & { code: string; cause: Error & { code?: string } }
  >;
  return [code, message, cause?.code, cause?.message].some(
    (text) =>
      typeof text === 'string' &&
      /^08...$|^57P..$|^E(CONN|PIPE|TIMEDOUT|HOST)|connection terminated|connection error|not queryable|read timeout/i.test(
        text,
      ),
  );
}

/** Opens all the connections of a pool, so that the first class to send does not wait for them one by one. */
export async function openAll(pool: pg.Pool): Promise<void> {
  const clients = await Promise.all(Array.from({ length: pool.options.max ?? 1 }, () => pool.connect()));
  for (const client of clients) client.release();
}

/** Throws where the database cannot be reached. */
export const reach = async (db: Db): Promise<void> => void (await db.execute(sql`select 1`));

/** The bytes that the database takes on its disk. */
export async function sizeOf(db: Db): Promise<number> {
  const { rows } = await db.execute<{ bytes: string }>(
    sql`select pg_database_size(current_database())::text as bytes`,
  );
  return Number(rows[0]!.bytes);
}

const migrationLock = 7_165_538;

/** A database that a newer release has used: this one would read it as its own, and drop what it does not know. */
export class NewerDatabase extends Error {
  /** The commands print it as it is, without where it was thrown. */
  override name = 'Trouble';
  constructor() {
    super(
      'This data was last used by a newer release of Ulkret. Nothing was changed: start that release again, or restore a backup that this one has made.',
    );
  }
}

/** Throws where migrations have run that this release does not have. */
async function refuseNewer(client: pg.Client, migrationsFolder: string): Promise<void> {
  const { rows: there } = await client.query<{ known: string | null }>(
    "select to_regclass('drizzle.__drizzle_migrations')::text as known",
  );
  if (!there[0]?.known) return;
  const { rows } = await client.query<{ last: string | null }>(
    'select max(created_at)::text as last from drizzle.__drizzle_migrations',
  );
  const newest = Math.max(
    ...readMigrationFiles({ migrationsFolder }).map(({ folderMillis }) => folderMillis),
  );
  if (Number(rows[0]?.last ?? 0) > newest) throw new NewerDatabase();
}

/**
 * Brings the schema forward; refuses a database that a newer release has used. Two processes that start together take turns under
 * one lock.
 */
export async function migrateForward(url: string, migrationsFolder: string): Promise<void> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    await client.query('select pg_advisory_lock($1)', [migrationLock]);
    await refuseNewer(client, migrationsFolder);
    await migrate(drizzle(client), { migrationsFolder });
  } finally {
    await client.end();
  }
}
