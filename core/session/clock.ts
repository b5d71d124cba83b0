import type { RoundClock } from './session';

export const stoppedClock: RoundClock = { round: 1, ranMs: 0, since: null };

const ranAt = ({ ranMs, since }: RoundClock, now: number): number =>
  ranMs + (since === null ? 0 : Math.max(0, now - Date.parse(since)));

/** Starts, pauses or goes on; after a round that is over the next one starts. `now` in milliseconds since the epoch. */
export function toggled(clock: RoundClock, now: number, roundSeconds: number): RoundClock {
  const ran = ranAt(clock, now);
  const since = new Date(now).toISOString();
  if (ran >= roundSeconds * 1000) return { round: clock.round + 1, ranMs: 0, since };
  return clock.since === null ? { ...clock, since } : { ...clock, ranMs: ran, since: null };
}

/** Whole seconds left of a round, never under 0. */
export const leftOf = (clock: RoundClock, now: number, roundSeconds: number): number =>
  Math.max(0, Math.ceil(roundSeconds - ranAt(clock, now) / 1000));

/** The half of the round that the clock is in. */
export const halfOf = (clock: RoundClock, now: number, roundSeconds: number): 'first' | 'second' =>
  ranAt(clock, now) * 2 < roundSeconds * 1000 ? 'first' : 'second';
