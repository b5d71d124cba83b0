import { createHmac } from 'node:crypto';
import pg from 'pg';

/** Who the server is in the database: no superuser, and the owner of nothing. */
const role = 'ulkret_server';

/** SQLSTATE of what another server has made at the same moment. */
const madeMeanwhile = new Set(['42710', '23505', 'XX000']);

async function can(url: string): Promise<boolean> {
  const client = new pg.Client({ connectionString: url });
  try {
    await client.connect();
    return true;
  } catch {
    return false;
  } finally {
    await client.end().catch(() => undefined);
  }
}

/**
 * The URL of a database for the server, from that of who owns its tables: as a role that may read and write rows, and neither change
 * a table nor see past the walls between academies. The role is made where it is missing; its password comes from the owner's, so
 * that nobody has to keep it. Null where the owner may not make roles, or where nobody signs in by a password.
 */
export async function asServer(ownerUrl: string): Promise<string | null> {
  const given = new URL(ownerUrl);
  const password = createHmac('sha256', given.password).update(role).digest('base64url');
  given.username = role;
  given.password = password;
  const owner = new pg.Client({ connectionString: ownerUrl });
  await owner.connect();
  try {
    const { rows } = await owner.query<{ may: boolean }>(
      'select rolsuper or rolcreaterole as may from pg_roles where rolname = current_user',
    );
    if (!rows[0]?.may) return null;
    const settle = async (statement: string) => {
      try {
        await owner.query(statement);
      } catch (error) {
        if (!madeMeanwhile.has((error as { code?: string }).code ?? '')) throw error;
      }
    };
    await settle(`create role ${role} login`);
    if (!(await can(given.href))) await settle(`alter role ${role} password ${pg.escapeLiteral(password)}`);
    for (const statement of [
      `grant usage on schema public to ${role}`,
      `grant select, insert, update, delete on all tables in schema public to ${role}`,
      `grant usage on all sequences in schema public to ${role}`,
    ])
      await owner.query(statement);
  } finally {
    await owner.end();
  }
  return (await can(given.href)) ? given.href : null;
}
