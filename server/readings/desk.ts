import { fileURLToPath } from 'node:url';
import Piscina from 'piscina';
import type { Asked, Decided, Rated, Read, Reader } from './read';

/** Where readings are asked for, wherever they are made. */
export type Readings = Pick<Reader, 'read' | 'rates' | 'decide'>;

const idleMs = 15 * 60_000;

/**
 * Readings made in a thread of their own over a PostgreSQL URL, so that nobody's tap waits behind a fit. The thread starts
 * with the first question, serves all who ask, and goes when nobody has asked for a quarter of an hour.
 */
export function readInThread(url: string): Readings & { close(): Promise<void> } {
  const pool = new Piscina({
    filename: fileURLToPath(new URL('./thread.mjs', import.meta.url)),
    workerData: { url },
    minThreads: 0,
    maxThreads: 1,
    concurrentTasksPerWorker: 16,
    idleTimeout: idleMs,
  });
  // Whoever asked is told by the question itself; a thread that died is started again by the next one.
  pool.on('error', () => undefined);
  return {
    read: (academyId, asked: Asked) =>
      pool.run({ academyId, asked }, { name: 'read' }) as Promise<Read | null>,
    rates: (academyId, asked: Asked) =>
      pool.run({ academyId, asked }, { name: 'rates' }) as Promise<Rated | null>,
    decide: (academyId, technique) =>
      pool.run({ academyId, technique }, { name: 'decide' }) as Promise<Decided | null>,
    close: () => pool.destroy(),
  };
}
