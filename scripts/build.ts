import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { once } from 'node:events';
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { Trouble } from './trouble';

const sources = ['web', 'core', 'contract'];
const left = new Set(['node_modules', 'dist']);

function* files(folder: string): Generator<string> {
  for (const entry of readdirSync(folder, { withFileTypes: true }).sort((a, b) =>
    a.name < b.name ? -1 : 1,
  )) {
    if (left.has(entry.name)) continue;
    const file = path.join(folder, entry.name);
    if (entry.isDirectory()) yield* files(file);
    else if (!/\.test\.tsx?$/.test(entry.name)) yield file;
  }
}

/** Builds the web app where its sources have changed since the last build. Answers with the folder it is in. */
export async function buildWeb(): Promise<string> {
  const out = path.resolve('web/dist');
  const stampFile = path.join(out, '.built-from');
  const digest = createHash('sha256').update(readFileSync('package-lock.json'));
  for (const source of sources)
    for (const file of files(source)) digest.update(file).update(readFileSync(file));
  const stamp = digest.digest('hex');
  if (existsSync(stampFile) && readFileSync(stampFile, 'utf8') === stamp) return out;
  console.log('Building the web app …');
  // In a process of its own: what a build takes of memory, a running server would keep.
  const vite = path.resolve('node_modules/vite/bin/vite.js');
  const child = spawn(process.execPath, [vite, 'build', 'web', '--logLevel', 'warn'], {
    stdio: ['ignore', 'inherit', 'inherit'],
  });
  const [code] = (await once(child, 'close')) as [number | null];
  if (code !== 0) throw new Trouble('The web app could not be built; see the reason above.');
  writeFileSync(stampFile, stamp);
  return out;
}
