const listeners = new Set<() => void>();
/** The moment of the oldest answer that this device had to take from what it kept, since the server last answered. */
let oldest: number | null = null;

function set(next: number | null): void {
  if (next === oldest) return;
  oldest = next;
  for (const listener of listeners) listener();
}

/** The server did not answer: what is shown is of that moment (milliseconds since the epoch). */
export const wasRecalled = (at: number): void => set(Math.min(at, oldest ?? Infinity));

/** The server answered: it is within reach. */
export const wasAsked = (): void => set(null);

export const onRecalled = (listener: () => void): (() => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

/** The moment that the shown data is from while the server does not answer; null when it does. */
export const recalledSince = (): number | null => oldest;
