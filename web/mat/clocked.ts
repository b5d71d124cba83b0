/** Where a round clock stands: milliseconds already run, and since when (milliseconds since the epoch) it runs. */
export interface Clocked {
  ranMs: number;
  since: number | null;
}

export const stopped: Clocked = { ranMs: 0, since: null };

/** Starts, pauses or goes on; after a round that is over it starts anew. */
export const toggled = ({ ranMs, since }: Clocked, now: number, roundMs: number): Clocked => {
  if (since !== null) return { ranMs: ranMs + now - since, since: null };
  return ranMs >= roundMs ? { ranMs: 0, since: now } : { ranMs, since: now };
};

/** Whole seconds left of a round, never under 0. */
export function leftOf({ ranMs, since }: Clocked, now: number, roundSeconds: number): number {
  const ran = ranMs + (since === null ? 0 : Math.max(0, now - since));
  return Math.max(0, Math.ceil(roundSeconds - ran / 1000));
}
