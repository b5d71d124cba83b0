import { randomBytes } from 'node:crypto';
import path from 'node:path';
import pg from 'pg';
import { connect, migrateForward } from '../db/connect';

/** A database of its own on the PostgreSQL that `npm test` started, migrated, and dropped by `drop`. */
export async function freshDatabase() {
  const admin = process.env['TEST_DATABASE_URL'];
  if (!admin)
    throw new Error('The server tests need the PostgreSQL that npm test starts: run "npm test server".');
  const name = `test_${randomBytes(6).toString('hex')}`;
  const asAdmin = async (query: string) => {
    const client = new pg.Client({ connectionString: admin });
    await client.connect();
    await client.query(query);
    await client.end();
  };
  await asAdmin(`create database ${name}`);
  const url = admin.replace(/\/[^/]*$/, `/${name}`);
  await migrateForward(url, path.resolve('server/db/migrations'));
  const { db, pool, close } = connect(url, 5);
  return {
    url,
    db,
    pool,
    drop: async () => {
      await close();
      await asAdmin(`drop database ${name} with (force)`);
    },
  };
}
