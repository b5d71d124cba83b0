/** Storage for a clock's offset while the page is closed. */
interface Store {
  getItem(key: string): string | null;
  setItem(key: string, value: string): void;
}

const key = 'ulkret-clock-offset';

/** An answer that took longer says too little about the server's clock. */
const longestTripMs = 8000;
/** Differences below this are the network's and not the clock's. */
const deadbandMs = 400;

/**
 * The time as the server has it, told from this device's clock and what was last heard. A tablet's clock may be a day off;
 * what is tapped must not be.
 */
export class Clock {
  private offset: number;
  /** Has the server been heard since the page was opened? Before that the kept offset is only likely. */
  heard = false;
  private latest = 0;

  constructor(
    private readonly device: () => number,
    private readonly store: Store | null,
  ) {
    this.offset = Number(store?.getItem(key) ?? 0) || 0;
  }

  get offsetMs(): number {
    return this.offset;
  }

  /** Takes the server's time out of an answer that was asked for at one instant of this device and came at another. */
  hear(serverMs: number, askedMs: number, cameMs: number): void {
    const trip = cameMs - askedMs;
    if (!Number.isFinite(serverMs) || trip < 0 || trip > longestTripMs) return;
    const measured = Math.round(serverMs - (askedMs + trip / 2));
    if (this.heard && Math.abs(measured - this.offset) < deadbandMs + trip / 2) return;
    this.offset = Math.abs(measured) < deadbandMs ? 0 : measured;
    this.heard = true;
    try {
      this.store?.setItem(key, String(this.offset));
    } catch {
      // A full store only costs what is known at the next opening.
    }
  }

  /** Milliseconds since the epoch. */
  now(): number {
    return this.device() + this.offset;
  }

  /** An instant for a new fact: never before the one that was given out last, so that the order of taps is kept. */
  stamp(): string {
    this.latest = Math.max(this.now(), this.latest + 1);
    return new Date(this.latest).toISOString();
  }

  /** Forgets the order so far: what was stamped by a wrong clock has been put right. */
  settle(): void {
    this.latest = 0;
  }
}

const storage = (): Store | null => {
  try {
    return typeof localStorage === 'undefined' ? null : localStorage;
  } catch {
    return null;
  }
};

/** The clock of this page. */
export const clock = new Clock(() => Date.now(), storage());
