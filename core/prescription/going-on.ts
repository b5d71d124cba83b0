import type { Life } from './lifecycle';
import type { Prescription } from './prescription';

/** A current correction gives way to one that brings this many times as much in the same time. */
const givesWayAt = 1.1;

/**
 * Is the correction in work still the one to drill, given what would be prescribed now? One thing at a time: it stays until it
 * is settled, or until another one brings a tenth more.
 */
export function goesOn({ terms, state }: Pick<Life, 'terms' | 'state'>, now: Prescription): boolean {
  if (state === 'stepped back') return false;
  if (now.kind !== 'correct') return true;
  const [best, ...rest] = now.reason.candidates;
  const own = [best!, ...rest].find(({ checkpoint }) => checkpoint === terms.checkpoint);
  // Not among those that were told: it brings less than they do.
  if (!own) return false;
  return best!.rise <= givesWayAt * own.rise;
}
