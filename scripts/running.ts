import { readFileSync } from 'node:fs';

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
