import { randomBytes } from 'node:crypto';
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import os from 'node:os';
import path from 'node:path';
import { expect, test } from '@playwright/test';
import { freePort } from '../scripts/postgres';
import { ended, startCommand } from '../scripts/started';

const folder = path.join(os.tmpdir(), `ulkret-start-${randomBytes(6).toString('hex')}`);
const withoutDatabase = { DATABASE_URL: '' };
test.describe.configure({ mode: 'serial' });
test.afterAll(() => rmSync(folder, { recursive: true, force: true }));

test('the start command makes everything, stops cleanly, and keeps everything the second time', async () => {
  const port = await freePort();
  const options = ['--port', String(port), '--data', folder];
  const first = startCommand(options, withoutDatabase);
  const { code, printed } = await first.settled;
  expect(code, printed).toBeNull();
  expect(printed).toContain('Demo sign-in: coach@slipway.example');
  const other = startCommand(['--port', String(await freePort()), '--data', folder], withoutDatabase);
  expect((await other.settled).printed).toMatch(
    /^Another Ulkret \(process \d+\) uses .*: stop it, or choose another folder/,
  );
  await ended(first.child, 'SIGINT');
  expect(existsSync(path.join(folder, 'postgres', 'postmaster.pid'))).toBe(false);

  const second = startCommand(options, withoutDatabase);
  const again = await second.settled;
  expect(again.code).toBeNull();
  expect(printed).toMatch(/Loading the demo/);
  expect(again.printed).not.toMatch(/Installing|Building|Loading/);
  expect((await fetch(`http://127.0.0.1:${port}/api/health`)).status).toBe(200);
  await ended(second.child);
});

test('a number left in a file by a power cut, of a process that is another by now, stops nobody', async () => {
  // This very process runs, and is neither an Ulkret nor a PostgreSQL.
  writeFileSync(path.join(folder, 'ulkret.pid'), String(process.pid));
  writeFileSync(path.join(folder, 'postgres', 'postmaster.pid'), `${process.pid}\n${folder}\n0\n5999\n`);
  const start = startCommand(['--port', String(await freePort()), '--data', folder], withoutDatabase);
  const { code, printed } = await start.settled;
  expect(code, printed).toBeNull();
  await ended(start.child, 'SIGINT');
});

test('a start that was killed outright is taken over by the next', async () => {
  const options = ['--port', String(await freePort()), '--data', folder];
  const killed = startCommand(options, withoutDatabase);
  await killed.settled;
  await ended(killed.child, 'SIGKILL');
  const next = startCommand(options, withoutDatabase);
  expect((await next.settled).code).toBeNull();
  await ended(next.child);
  expect(existsSync(path.join(folder, 'postgres', 'postmaster.pid'))).toBe(false);
});

test('a database that has died is started again on its own; where it cannot be, health says why until it can', async () => {
  const port = await freePort();
  const server = startCommand(['--port', String(port), '--data', folder], withoutDatabase);
  expect((await server.settled).code).toBeNull();
  const health = async () => {
    const response = await fetch(`http://127.0.0.1:${port}/api/health`);
    return `${response.status} ${await response.text()}`;
  };
  const postmaster = path.join(folder, 'postgres', 'postmaster.pid');
  const number = () => (existsSync(postmaster) ? readFileSync(postmaster, 'utf8').split('\n')[0] : '');
  const kill = () => process.kill(Number(number()), 'SIGKILL');
  await expect.poll(health).toMatch(/^200/);
  const first = number();
  kill();
  await expect.poll(() => ['', first].includes(number())).toBe(false);
  await expect.poll(health).toMatch(/^200/);

  const settings = path.join(folder, 'postgres', 'postgresql.auto.conf');
  const before = readFileSync(settings);
  writeFileSync(settings, 'no_such_setting = on\n');
  kill();
  await expect.poll(health).toMatch(/^503 .*does not start \(.*configuration.*tried again/);
  writeFileSync(settings, before);
  await expect.poll(health).toMatch(/^200/);
  await ended(server.child);
  expect(existsSync(path.join(folder, 'postgres', 'postmaster.pid'))).toBe(false);
});

test('what a person can fix is one clear sentence, and nothing is half made', async () => {
  const said = async (options: string[], env: Record<string, string> = withoutDatabase) => {
    const { code, printed } = await startCommand(options, env).settled;
    expect(code).toBe(1);
    return printed.trim();
  };
  const blocker = createServer().listen(0, '127.0.0.1');
  await new Promise((resolve) => blocker.once('listening', resolve));
  const { port } = blocker.address() as { port: number };
  const unused = path.join(os.tmpdir(), `ulkret-unused-${randomBytes(6).toString('hex')}`);
  expect(await said(['--port', String(port), '--data', unused])).toBe(
    `Port ${port} is taken by another program: choose one with --port, or stop that program.`,
  );
  expect(existsSync(unused)).toBe(false);
  blocker.close();

  const free = String(await freePort());
  const nowhere = { DATABASE_URL: `postgres://nobody@127.0.0.1:${await freePort()}/none` };
  expect(await said(['--port', free], nowhere)).toMatch(
    /^The database of DATABASE_URL cannot be reached \(.*\): start it, or fix the address\.$/,
  );
  expect(await said(['--port', 'ninety'])).toBe('"ninety" is not a port from 1 to 65535.');
  expect(await said(['--prot', '1'])).toMatch(/Unknown option '--prot'/);

  writeFileSync(path.join(folder, 'postgres', 'PG_VERSION'), '9\n');
  expect(await said(['--port', free, '--data', folder])).toMatch(
    /^The data in .* was made by PostgreSQL 9, but this machine has [\d, ]+: install postgresql-9, or choose another folder with --data\.$/,
  );
});
