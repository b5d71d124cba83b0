import { fileURLToPath } from 'node:url';
import pLimit, { type LimitFunction } from 'p-limit';
import Piscina from 'piscina';
import { Busy } from '../refused';
import { type Question, questions, type Readings } from './read';
import type { Came } from './thread';

const idleMs = 15 * 60_000;
/** Requests computed at once; more slow each other down. */
const atOnce = 6;
/** Queue limit. */
const mostWaiting = 24;
/** Queue timeout: the device has given up by then. */
const patienceMs = 60_000;

/**
 * Readings made in a thread of their own over a PostgreSQL URL, so that nobody's tap waits behind a fit. The thread starts
 * with the first question, serves all who ask, and goes when nobody has asked for a quarter of an hour. Who asks what
 * somebody waits for already waits with them; where more is asked than can be answered in time, the rest is asked to come again.
 */
export function readInThread(url: string): Readings & { close(): Promise<void> } {
  const pool = new Piscina({
    filename: fileURLToPath(new URL('./thread.mjs', import.meta.url)),
    workerData: { url },
    minThreads: 0,
    maxThreads: 1,
    concurrentTasksPerWorker: atOnce,
    idleTimeout: idleMs,
  });
  // The question itself tells its caller; the next one restarts a thread that died.
  pool.on('error', () => undefined);
  const desk = new Desk(atOnce, mostWaiting, patienceMs);
  const asked = async (name: Question, of: unknown[]): Promise<unknown> => {
    const came = await desk.ask(
      `${name} ${JSON.stringify(of)}`,
      () => pool.run({ name, of }) as Promise<Came<unknown>>,
    );
    if ('told' in came) return came.told;
    const { message, ...broke } = came.broke;
    throw Object.assign(new Error(message), broke);
  };
  const ask = (name: Question) => [name, (...of: unknown[]) => asked(name, of)];
  const answers = Object.fromEntries(questions.map(ask)) as Readings;
  return { ...answers, close: () => pool.destroy() };
}

/** A bounded queue of questions. One that is begun answers for what was known then: only those that wait are shared. */
export class Desk {
  private readonly waiting = new Map<string, Promise<unknown>>();
  private readonly limit: LimitFunction;

  constructor(
    atOnce: number,
    private readonly most: number,
    private readonly patienceMs: number,
    /** Milliseconds from any start. */
    private readonly now: () => number = () => performance.now(),
  ) {
    this.limit = pLimit(atOnce);
  }

  /** Answers a question in its turn. Throws `Busy` where too many different ones wait, or where its turn comes too late. */
  ask<T>(question: string, answer: () => Promise<T>): Promise<T> {
    const shared = this.waiting.get(question);
    if (shared) return shared as Promise<T>;
    const busy = () => new Busy('Too many readings at once.');
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
