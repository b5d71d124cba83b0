import { fileURLToPath } from 'node:url';
import pLimit, { type LimitFunction } from 'p-limit';
import Piscina from 'piscina';
import { type Question, questions, type Readings } from '../readings/read';
import { Busy } from '../refused';
import type { BroughtIn } from '../transfers/archive-in';
import { Transfers } from '../transfers/transfers';
import { arrived, type Came } from './came';

interface Bounds {
  /** Requests computed at once; more slow each other down. */
  atOnce: number;
  /** Queue limit. */
  mostWaiting: number;
  /** Queue timeout in milliseconds: the caller has given up by then. */
  patience: number;
  /** Milliseconds without a question after which the thread goes. */
  idle: number;
}

/**
 * A thread over a PostgreSQL URL. It starts with the first question, serves all who ask, and goes when nobody has asked for a
 * while; where more is asked than can be answered in time, the rest is asked to come again.
 */
function threadOf(file: 'readings' | 'transfers', url: string, { idle, ...bounds }: Bounds, busy: string) {
  const pool = new Piscina({
    filename: fileURLToPath(new URL(`./${file}.mjs`, import.meta.url)),
    workerData: { url },
    minThreads: 0,
    maxThreads: 1,
    concurrentTasksPerWorker: bounds.atOnce,
    idleTimeout: idle,
    // A thread that has nothing to do still hears that the database is away.
    atomics: 'disabled',
    // An open file is of who has opened it, and not of the thread that writes to it.
    trackUnmanagedFds: false,
  });
  // The question itself tells its caller; the next one restarts a thread that died.
  pool.on('error', () => undefined);
  const desk = new Desk(bounds.atOnce, bounds.mostWaiting, bounds.patience, busy);
  return {
    ask: async <T>(name: string, question: unknown): Promise<T> =>
      arrived(await desk.ask(name, () => pool.run(question) as Promise<Came<T>>)),
    close: () => pool.destroy(),
  };
}

const minute = 60_000;

/**
 * Readings made in a thread of their own, so that nobody's tap waits behind a fit. Who asks what somebody waits for already waits
 * with them.
 */
export function readInThread(url: string): Readings & { close(): Promise<void> } {
  const bounds = { atOnce: 6, mostWaiting: 24, patience: minute, idle: 15 * minute };
  const { ask, close } = threadOf('readings', url, bounds, 'Too many readings at once.');
  const asked = (name: Question) => [
    name,
    (...of: unknown[]) => ask(`${name} ${JSON.stringify(of)}`, { name, of }),
  ];
  return { ...(Object.fromEntries(questions.map(asked)) as Readings), close };
}

/** Whole files made and read in a thread of their own, one after the other. */
export function transferInThread(url: string): Transfers & { close(): Promise<void> } {
  const bounds = { atOnce: 1, mostWaiting: 6, patience: 2 * minute, idle: minute };
  const { ask, close } = threadOf('transfers', url, bounds, 'Too many files at once.');
  let asked = 0;
  // Each has a file of its own: nobody waits with another.
  const transfers = new Transfers((job, fd) => ask<BroughtIn | null>(String(asked++), { job, fd }));
  return Object.assign(transfers, { close });
}

/** A bounded queue of questions. One that is begun answers for what was known then: only those that wait are shared. */
export class Desk {
  private readonly waiting = new Map<string, Promise<unknown>>();
  private readonly limit: LimitFunction;

  constructor(
    atOnce: number,
    private readonly most: number,
    private readonly patienceMs: number,
    private readonly told: string,
    /** Milliseconds from any start. */
    private readonly now: () => number = () => performance.now(),
  ) {
    this.limit = pLimit(atOnce);
  }

  /** Answers a question in its turn. Throws `Busy` where too many different ones wait, or where its turn comes too late. */
  ask<T>(question: string, answer: () => Promise<T>): Promise<T> {
    const shared = this.waiting.get(question);
    if (shared) return shared as Promise<T>;
    const busy = () => new Busy(this.told);
    if (this.waiting.size >= this.most) return Promise.reject(busy());
    const since = this.now();
    const own = this.limit(() => {
      this.waiting.delete(question);
      if (this.now() - since > this.patienceMs) throw busy();
      return answer();
    });
    this.waiting.set(question, own);
    return own;
  }
}
