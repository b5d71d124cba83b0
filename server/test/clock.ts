import { jest } from '@jest/globals';

const everythingButTheDate = [
  'hrtime',
  'nextTick',
  'performance',
  'queueMicrotask',
  'setImmediate',
  'clearImmediate',
  'setInterval',
  'clearInterval',
  'setTimeout',
  'clearTimeout',
  // A stopped `Intl` would forget the names of the time zones.
  'Intl',
] as const;

/**
 * Stops the date of this process at noon (UTC) of the present day: what a test says about “today” or “an hour ago” then
 * holds just before midnight too. Timers run on.
 */
export function stopTheClock(): void {
  const now = new Date();
  now.setUTCHours(12, 0, 0, 0);
  jest.useFakeTimers({ now, doNotFake: [...everythingButTheDate] as never[] });
}
