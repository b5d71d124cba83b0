import { type ChildProcess, spawn } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { createServer } from 'node:net';
import { test as base } from '@playwright/test';
import pg from 'pg';

/** A running Ulkret of a test's own, started by the real command. */
export interface Instance {
  url: string;
  /** Ends the process and starts it again on the same database and port. */
  restart(): Promise<void>;
  /** Asks its database something that no screen can. */
  query(text: string): Promise<void>;
}

export const freePort = (): Promise<number> =>
  new Promise((resolve, reject) => {
    const probe = createServer().once('error', reject);
    probe.listen(0, '127.0.0.1', () => {
      const address = probe.address();
      probe.close(() => resolve(typeof address === 'object' && address ? address.port : 0));
    });
  });

/** Starts the start command and waits until it says where it is, or until it gives up; answers with what it printed. */
export function startCommand(options: string[], env: Record<string, string> = {}) {
  const child = spawn(process.execPath, ['scripts/run.mjs', 'start', ...options], {
    env: { ...process.env, ...env },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let printed = '';
  const settled = new Promise<{ code: number | null; printed: string }>((resolve) => {
    const take = (chunk: Buffer) => {
      printed += chunk.toString();
      if (printed.includes('Ctrl-C stops')) resolve({ code: null, printed });
    };
    child.stdout.on('data', take);
    child.stderr.on('data', take);
    child.once('close', (code) => resolve({ code: code ?? 1, printed }));
  });
  return { child, settled };
}

export const ended = (child: ChildProcess, signal: NodeJS.Signals = 'SIGTERM'): Promise<void> =>
  new Promise((resolve) => {
    if (child.exitCode !== null || child.signalCode !== null) return resolve();
    child.once('close', () => resolve());
    child.kill(signal);
  });

async function asAdmin(query: string, url = process.env['TEST_DATABASE_URL']): Promise<void> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  await client.query(query);
  await client.end();
}

async function withInstance(options: string[], use: (instance: Instance) => Promise<void>): Promise<void> {
  const name = `e2e_${randomBytes(6).toString('hex')}`;
  await asAdmin(`create database ${name}`);
  const port = await freePort();
  const env = { DATABASE_URL: process.env['TEST_DATABASE_URL']!.replace(/\/[^/]*$/, `/${name}`) };
  const start = async () => {
    const { child, settled } = startCommand(['--port', String(port), ...options], env);
    const { code, printed } = await settled;
    if (code !== null) throw new Error(`the start command ended with ${code}:\n${printed}`);
    return child;
  };
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

/** `demo` is one demo academy for all tests of a worker; `empty` is a new, empty instance for each test that asks. */
export const test = base.extend<{ empty: Instance }, { demo: Instance }>({
  empty: [
    async ({}, use) => withInstance(['--empty'], use), // eslint-disable-line no-empty-pattern -- Playwright reads the pattern
    { timeout: 60_000 },
  ],
  demo: [
    async ({}, use) => withInstance([], use), // eslint-disable-line no-empty-pattern -- Playwright reads the pattern
    { scope: 'worker', timeout: 60_000 },
  ],
});
export { expect } from '@playwright/test';
