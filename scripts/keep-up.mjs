import { spawn } from 'node:child_process';
import { setTimeout } from 'node:timers';

const firstWaitMs = 500;
const longestWaitMs = 30_000;
/** What ran for this time may start again at once. */
const steadyMs = 60_000;

/** The child's environment says that somebody keeps it up. */
export const keptUp = 'ULKRET_KEPT_UP';

/**
 * Runs a command of its own process, and again whenever that process dies after it was up. What ends before it was up, or because
 * it was asked to, ends this process too.
 * @param {string} file @param {readonly string[]} args
 */
export function keepUp(file, args) {
  /** @type {import('node:child_process').ChildProcess | null} */
  let child = null;
  let [wasUp, ending, waitMs] = [false, false, firstWaitMs];
  /** @param {readonly string[]} of */
  const begin = (of) => {
    const began = Date.now();
    child = spawn(process.execPath, [file, ...of], {
      env: { ...process.env, [keptUp]: '1' },
      stdio: ['inherit', 'inherit', 'inherit', 'ipc'],
    });
    child.on('message', (said) => {
      if (said === 'up') wasUp = true;
    });
    child.once('exit', (code, signal) => {
      child = null;
      if (ending || !wasUp || code === 0) process.exit(code ?? 1);
      waitMs = Date.now() - began > steadyMs ? firstWaitMs : Math.min(2 * waitMs, longestWaitMs);
      console.error(`Ulkret ended (${signal ?? `code ${code}`}); it is started again.`);
      // What is deleted is deleted once.
      setTimeout(() => begin(args.filter((one) => one !== '--reset')), waitMs);
    });
  };
  for (const signal of /** @type {const} */ (['SIGINT', 'SIGTERM', 'SIGHUP']))
    process.on(signal, () => {
      ending = true;
      if (!child) process.exit(0);
      // A terminal has told it already; it stops once.
      if (child.connected) child.send('stop');
    });
  begin(args);
}
