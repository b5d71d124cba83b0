import { readFileSync, readlinkSync, realpathSync } from 'node:fs';

/**
 * Does the process of a number run a command that says all of these words? After a power cut the number in a file may belong
 * to anybody.
 */
export function isRunning(pid: number, ...words: readonly string[]): boolean {
  if (!Number.isInteger(pid) || pid <= 0) return false;
  try {
    const command = readFileSync(`/proc/${pid}/cmdline`, 'utf8');
    return words.every((word) => command.includes(word));
  } catch {
    return false;
  }
}

/** Does a process work in this folder? Null where this user may not look, or nobody can. */
export function worksIn(pid: number, folder: string): boolean | null {
  try {
    return readlinkSync(`/proc/${pid}/cwd`) === realpathSync(folder);
  } catch {
    return null;
  }
}

/** What tells a process from every other one that has, had or gets its number: the start of the machine, and its own. */
export function identityOf(pid: number): string | null {
  try {
    const boot = readFileSync('/proc/sys/kernel/random/boot_id', 'utf8').trim();
    // The name of the program, in brackets, may hold anything; the start is the 22nd field, and the 20th after the name.
    const [, afterName = ''] = /\) (.*)/s.exec(readFileSync(`/proc/${pid}/stat`, 'utf8')) ?? [];
    return `${boot}/${afterName.split(' ')[19]}`;
  } catch {
    return null;
  }
}
