import type { RoundClock, Session } from './session';

export const stoppedClock: RoundClock = { round: 1, ranMs: 0, since: null };

/** How a class is divided: seconds of a round and of the rest after it, and how many rounds. */
export type Rounds = Pick<Session, 'roundSeconds' | 'restSeconds' | 'rounds'>;

/** The state of the clock at a moment. */
export interface ClockAt {
  round: number;
  /** Milliseconds of this round that have run, the rest after it included. */
  ranMs: number;
  /** Whole seconds left of the round; 0 in the rest. */
  left: number;
  /** Whole seconds left of the rest before the next round; null outside a rest. */
  resting: number | null;
  half: 'first' | 'second';
}

/**
 * The state of the clock at `now` (milliseconds since the epoch). With a rest between rounds the next round starts
 * after the rest; without one it waits for a press. It counts from instants, so all devices agree.
 */
export function clockAt({ round, ranMs, since }: RoundClock, now: number, rounds: Rounds): ClockAt {
  const roundMs = rounds.roundSeconds * 1000;
  const restMs = rounds.restSeconds * 1000;
  const ran = ranMs + (since === null ? 0 : Math.max(0, now - Date.parse(since)));
  const passed =
    restMs === 0 ? 0 : Math.min(Math.floor(ran / (roundMs + restMs)), Math.max(0, rounds.rounds - round));
  const inRound = ran - passed * (roundMs + restMs);
  const isLast = round + passed >= rounds.rounds;
  return {
    round: round + passed,
    ranMs: inRound,
    left: Math.max(0, Math.ceil((roundMs - inRound) / 1000)),
    resting:
      restMs > 0 && !isLast && inRound >= roundMs ? Math.ceil((roundMs + restMs - inRound) / 1000) : null,
    half: inRound * 2 < roundMs ? 'first' : 'second',
  };
}

/** Starts, pauses or resumes; after a round that is over the next one starts. */
export function toggled(clock: RoundClock, now: number, rounds: Rounds): RoundClock {
  const { round, ranMs, left } = clockAt(clock, now, rounds);
  const since = new Date(now).toISOString();
  if (left === 0) return { round: round + 1, ranMs: 0, since };
  return clock.since === null ? { ...clock, since } : { round, ranMs, since: null };
}
