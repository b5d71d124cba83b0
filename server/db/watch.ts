import { setImmediate as nextTurn, setTimeout as rest } from 'node:timers/promises';
import pg from 'pg';
import type { Watched } from './connect';

/** Milliseconds: how often it is looked, how long an answer may take, and after what a pool that gives nothing back never will. */
const usual = { look: 2000, answer: 3000, stuck: 60_000 };

export const noAnswer = 'The database does not answer.';

/**
 * Watches a database and a pool on it. While the database does not answer, as one that is frozen, every query on the pool is broken
 * off, and `told` says so, and null when it answers again. Where the database answers and no connection comes back to the pool,
 * `over` tells why: only another process mends that. The answer ends the watch, and settles once it has.
 */
export function watch(
  url: string,
  { pool, breakOff }: Watched,
  told: (wrong: string | null) => void,
  over: (reason: string) => void,
  ms = usual,
): () => Promise<void> {
  let ended = false;
  let client: pg.Client | null = null;
  let moved = performance.now();
  let wrong: string | null = null;
  const say = (now: string | null) => {
    if (now !== wrong) told((wrong = now));
  };
  const onMove = () => (moved = performance.now());
  pool.on('release', onMove);
  pool.on('remove', onMove);

  const drop = () => {
    const gone = client;
    client = null;
    void gone?.end().catch(() => undefined);
  };
  /** Throws where no answer has come in time. Where this process was busy itself, what has come by then is looked at first. */
  const inTime = async (asked: Promise<unknown>): Promise<void> => {
    asked.catch(() => undefined);
    const late = async () => {
      await rest(ms.answer, undefined, { ref: false });
      for (let i = 0; i < 3; i++) await nextTurn();
      throw new Error(noAnswer);
    };
    await Promise.race([asked, late()]);
  };
  const answers = async (): Promise<boolean> => {
    try {
      if (!client) {
        client = new pg.Client({ connectionString: url });
        client.on('error', () => undefined);
        await inTime(client.connect());
      }
      await inTime(client.query('select 1'));
      return true;
    } catch {
      drop();
      return false;
    }
  };
  const look = async (): Promise<void> => {
    // One connection may break; two in a row do not.
    if (!(await answers()) && !(await answers())) {
      if (ended) return;
      breakOff();
      return say(noAnswer);
    }
    say(null);
    if (pool.waitingCount === 0 || pool.idleCount > 0) moved = performance.now();
    if (performance.now() - moved > ms.stuck)
      over(`No connection came back for ${ms.stuck / 1000} seconds, and ${pool.waitingCount} wait for one.`);
  };
  let timer: ReturnType<typeof setTimeout>;
  let looking = Promise.resolve();
  const next = () => {
    timer = setTimeout(() => (looking = look().then(() => (ended ? undefined : next()))), ms.look);
    timer.unref();
  };
  next();
  return () => {
    ended = true;
    clearTimeout(timer);
    pool.off('release', onMove);
    pool.off('remove', onMove);
    drop();
    return looking;
  };
}
