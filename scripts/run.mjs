// The one door to every command: `node scripts/run.mjs start|test|bench|dev [options]`. It needs nothing but Node: it
// installs the dependencies where they are missing or older than package-lock.json, then hands over to TypeScript.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
const [major, minor] = process.versions.node.split('.').map(Number);

/** @param {string} sentence @returns {never} */
function giveUp(sentence) {
  console.error(sentence);
  process.exit(1);
}

if (major < 20 || (major === 20 && minor < 19))
  giveUp(`Ulkret needs Node 20.19 or newer; this is ${process.version}. Nothing was changed.`);

const stampFile = path.join(root, 'node_modules', '.ulkret-lock');
const lock = createHash('sha256')
  .update(readFileSync(path.join(root, 'package-lock.json')))
  .digest('hex');
if (!existsSync(stampFile) || readFileSync(stampFile, 'utf8') !== lock) {
  console.error('Installing the dependencies …');
  const { status } = spawnSync(
    'npm',
    ['install', '--no-save', '--no-audit', '--no-fund', '--loglevel=error'],
    {
      cwd: root,
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, NODE_ENV: 'development' },
    },
  );
  if (status !== 0)
    giveUp('The dependencies could not be installed: npm said why above. Run the command again.');
  writeFileSync(stampFile, lock);
}

const [, , command, ...options] = process.argv;
if (!command || !existsSync(path.join(root, 'scripts', `${command}.ts`)))
  giveUp(`There is no command "${command ?? ''}"; there are start, test, bench and dev.`);
process.chdir(root);
const { keepUp, keptUp } = await import('./keep-up.mjs');
if (command === 'start' && !process.env[keptUp])
  keepUp(fileURLToPath(import.meta.url), [command, ...options]);
else await runHere();

async function runHere() {
  const { register } = await import('tsx/esm/api');
  register();
  const { run } = await import(`./${command}.ts`);
  try {
    await run(options);
  } catch (error) {
    if (error instanceof Error && error.name === 'Trouble') giveUp(error.message);
    throw error;
  }
}
