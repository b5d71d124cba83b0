import { randomBytes } from 'node:crypto';
import { expect, test as base } from '@playwright/test';
import { demoSignIn } from '@ulkret/demo';
import pg from 'pg';
import { freePort } from '../scripts/postgres';
import { ended, started } from '../scripts/started';

/** A running Ulkret of a test's own, started by the real command. */
export interface Instance {
  url: string;
  /** Ends the process and starts it again on the same database and port. */
  restart(): Promise<void>;
  /** Asks its database something that no screen can. */
  query(text: string): Promise<void>;
}

async function asAdmin(query: string, url = process.env['TEST_DATABASE_URL']): Promise<void> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  await client.query(query).finally(() => client.end());
}

async function withInstance(options: string[], use: (instance: Instance) => Promise<void>): Promise<void> {
  const name = `e2e_${randomBytes(6).toString('hex')}`;
  await asAdmin(`create database ${name}`);
  const port = await freePort();
  const env = { DATABASE_URL: process.env['TEST_DATABASE_URL']!.replace(/\/[^/]*$/, `/${name}`) };
  const start = () => started(['--port', String(port), ...options], env);
  let child = await start();
  await use({
    url: `http://127.0.0.1:${port}`,
    query: (text) => asAdmin(text, env.DATABASE_URL),
    restart: async () => {
      await ended(child);
      child = await start();
    },
  });
  await ended(child);
  await asAdmin(`drop database ${name} with (force)`);
}

/** What a page asked of anybody but the server that it is of. */
const isOutside = (address: string): boolean => {
  const { protocol, hostname } = new URL(address);
  return protocol.startsWith('http') && !['127.0.0.1', 'localhost'].includes(hostname);
};

/** Empties the database of an instance of all but the log of its migrations: nobody has been there. */
async function emptied({ query }: Instance): Promise<void> {
  const deadlock = '40P01';
  for (let tries = 1; ; tries++)
    try {
      return await query(`do $$ begin
        -- The access log is only added to, and this goes around it.
        perform set_config('session_replication_role', 'replica', true);
        execute (
          select 'truncate ' || string_agg(format('%I.%I', schemaname, tablename), ', ') || ' cascade'
          from pg_tables where schemaname = 'public'
        );
      end $$`);
    } catch (error) {
      // The server may still be at what the last test asked of it.
      if ((error as { code?: string }).code !== deadlock || tries === 5) throw error;
    }
}

/** Waits for the first reading: on a new server it is a fit next to everything else that starts. */
async function read({ url }: Instance): Promise<void> {
  const signIn = {
    method: 'POST',
    body: JSON.stringify(demoSignIn),
    headers: { 'content-type': 'application/json' },
  };
  const { headers } = await fetch(`${url}/api/session`, signIn);
  const cookie = headers
    .getSetCookie()
    .map((one) => one.split(';')[0]!)
    .join('; ');
  const { ok, status } = await fetch(`${url}/api/decisions?technique=rear-strangle`, { headers: { cookie } });
  if (!ok) throw new Error(`The first reading was answered with ${status}.`);
}

/**
 * `demo` is one demo academy for all tests of a worker; `empty` is one server for them too, and is made empty for each test
 * that asks. Whatever a test does, nothing outside is ever asked.
 */
export const test = base.extend<{ empty: Instance; watched: null }, { demo: Instance; served: Instance }>({
  watched: [
    async ({ context }, use) => {
      const outside: string[] = [];
      context.on('request', (request) => void (isOutside(request.url()) && outside.push(request.url())));
      await use(null);
      expect(outside).toEqual([]);
    },
    { auto: true },
  ],
  empty: async ({ served }, use) => {
    await emptied(served);
    await use(served);
  },
  served: [
    async ({}, use) => withInstance(['--empty'], use), // eslint-disable-line no-empty-pattern -- Playwright reads the pattern
    { scope: 'worker', timeout: 240_000 },
  ],
  demo: [
    // eslint-disable-next-line no-empty-pattern -- Playwright reads the pattern
    async ({}, use) =>
      withInstance([], async (instance) => {
        await read(instance);
        await use(instance);
      }),
    { scope: 'worker', timeout: 240_000 },
  ],
});
export { expect } from '@playwright/test';
