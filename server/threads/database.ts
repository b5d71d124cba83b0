import os from 'node:os';
import { BroadcastChannel, workerData } from 'node:worker_threads';
import { connect, type Db } from '../db/connect';
import { watchPool } from '../db/watch';

/**
 * What is made in a thread of its own may wait: taps go first. On Linux this is of the thread, and not of the whole process; at 5 the
 * thread still has a quarter of a core next to a busy one.
 */
const niceness = 5;

/** Where the threads over a database hear that it does not answer. They do not look for themselves: a thread that waits long for its
 * turn on a core would take that for a database that is slow. */
const heard = (url: string) => new BroadcastChannel(`no answer from ${url}`);

/** Breaks off, in every thread over a database, who waits for it. */
export function breakOffInThreads(url: string): void {
  const channel = heard(url);
  channel.postMessage(null);
  channel.close();
}

/** The database of a thread, on a pool of its own. A thread whose pool gives nothing back ends, and the next question starts another. */
export function ownDatabase(most: number, waitMs: number): Db {
  if (process.platform === 'linux') os.setPriority(niceness);
  const { url } = workerData as { url: string };
  const { db, pool, breakOff } = connect(url, most, waitMs);
  watchPool(pool, () => process.exit(1));
  const channel = heard(url);
  channel.onmessage = breakOff;
  channel.unref();
  return db;
}
