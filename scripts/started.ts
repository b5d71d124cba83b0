import { type ChildProcess, spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { Trouble } from './trouble';

/** Runs the start command; settles once it says where it is (code null) or has ended, with what it printed. */
export function startCommand(options: readonly string[], env: Record<string, string> = {}) {
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

/** A server that was started by the real command and is up. */
export async function started(
  options: readonly string[],
  env?: Record<string, string>,
): Promise<ChildProcess> {
  const { child, settled } = startCommand(options, env);
  const { code, printed } = await settled;
  if (code !== null) throw new Trouble(`The start command ended with ${code}: ${printed}`);
  return child;
}

/** The process that serves: the one that was started keeps it up. */
export const keptBy = ({ pid }: ChildProcess): number =>
  Number(readFileSync(`/proc/${pid}/task/${pid}/children`, 'utf8').trim().split(' ')[0]);

/** Ends a process and waits until it is gone. */
export const ended = (child: ChildProcess, signal: NodeJS.Signals = 'SIGTERM'): Promise<void> =>
  new Promise((resolve) => {
    if (child.exitCode !== null || child.signalCode !== null) return resolve();
    child.once('close', () => resolve());
    child.kill(signal);
  });
