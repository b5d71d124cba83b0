import { readFileSync } from 'node:fs';

/** Ticks a second in /proc, the same on every Linux that Node runs on. */
const ticks = 100;

/**
 * Seconds of processor time that a process and its ended children have used, in user and system mode; 0 where the system
 * does not tell. Fields 14 to 17 of proc(5), /proc/[pid]/stat.
 */
export function processorSeconds(pid: number | 'self' = 'self'): number {
  try {
    const afterName = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ').at(-1)!.split(' ');
    return afterName.slice(11, 15).reduce((sum, field) => sum + Number(field), 0) / ticks;
  } catch {
    return 0;
  }
}
