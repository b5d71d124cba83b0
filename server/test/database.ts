import { randomBytes } from 'node:crypto';
import path from 'node:path';
import pg from 'pg';
import { connect, migrateForward } from '../db/connect';
import { asServer } from '../db/role';

/** A database of its own on the PostgreSQL that `npm test` started, migrated, and dropped by `drop`. */
export async function freshDatabase() {
  const admin = process.env['TEST_DATABASE_URL'];
  if (!admin)
    throw new Error('The server tests need the PostgreSQL that npm test starts: run "npm test server".');
  const name = `test_${randomBytes(6).toString('hex')}`;
  const ask = async (on: string, query: string, values: unknown[] = []) => {
    const client = new pg.Client({ connectionString: on });
    await client.connect();
    return client.query<Record<string, string>>(query, values).finally(() => client.end());
  };
  const asAdmin = (query: string) => ask(admin, query);
  await asAdmin(`create database ${name}`);
  const url = admin.replace(/\/[^/]*$/, `/${name}`);
  await migrateForward(url, path.resolve('server/db/migrations'));
  // As the server works: behind the walls between academies.
  const server = (await asServer(url))!;
  const { db, pool, close } = connect(server, 5);
  return {
    /** As the server sees it. */
    url: server,
    owner: url,
    /** Asks as its owner: what only they may do. */
    asOwner: (query: string, values?: unknown[]) => ask(url, query, values),
    db,
    pool,
    drop: async () => {
      await close();
      await asAdmin(`drop database ${name} with (force)`);
    },
  };
}
