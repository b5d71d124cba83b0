import { randomBytes } from 'node:crypto';
import { rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { freePort } from './postgres';
import { ended, started } from './started';

/** Milliseconds of the first start, which makes the database and the demo, and of the second, until it answers. */
export async function startTimes(): Promise<{ first: number; second: number }> {
  const folder = path.join(os.tmpdir(), `ulkret-bench-${randomBytes(6).toString('hex')}`);
  const oneStart = async (): Promise<number> => {
    const before = performance.now();
    const child = await started(['--port', String(await freePort()), '--data', folder], { DATABASE_URL: '' });
    const spent = performance.now() - before;
    await ended(child);
    return spent;
  };
  try {
    return { first: await oneStart(), second: await oneStart() };
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
