import { spawn } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { once } from 'node:events';
import { rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { freePort } from './postgres';
import { Trouble } from './trouble';

/** Milliseconds of the first start, which makes the database and the demo, and of the second, until it answers. */
export async function startTimes(): Promise<{ first: number; second: number }> {
  const folder = path.join(os.tmpdir(), `ulkret-bench-${randomBytes(6).toString('hex')}`);
  const oneStart = async (): Promise<number> => {
    const before = performance.now();
    const child = spawn(
      process.execPath,
      ['scripts/run.mjs', 'start', '--port', String(await freePort()), '--data', folder],
      { env: { ...process.env, DATABASE_URL: '' }, stdio: ['ignore', 'pipe', 'inherit'] },
    );
    await new Promise<void>((resolve, reject) => {
      child.stdout.on('data', (chunk: Buffer) => chunk.toString().includes('Ctrl-C stops') && resolve());
      child.once('close', () => reject(new Trouble('The start ended before it had started.')));
    });
    const spent = performance.now() - before;
    child.removeAllListeners('close').kill('SIGTERM');
    await once(child, 'close');
    return spent;
  };
  try {
    return { first: await oneStart(), second: await oneStart() };
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
