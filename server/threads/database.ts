import os from 'node:os';
import { workerData } from 'node:worker_threads';
import { connect, type Db } from '../db/connect';
import { watch } from '../db/watch';

/** What is made in a thread of its own may wait: taps go first. On Linux this is of the thread, and not of the whole process. */
const niceness = 10;

/** The database of a thread, on a pool of its own. A thread whose pool gives nothing back ends, and the next question starts another. */
export function ownDatabase(most: number, waitMs: number): Db {
  if (process.platform === 'linux') os.setPriority(niceness);
  const { url } = workerData as { url: string };
  const connected = connect(url, most, waitMs);
  watch(
    url,
    connected,
    () => undefined,
    () => process.exit(1),
  );
  return connected.db;
}
