import { setImmediate as nextTurn, setTimeout as rest } from 'node:timers/promises';
import pg from 'pg';

/** Milliseconds: how often it is looked, how long an answer may take, and after what a pool that gives nothing back never will. */
const usual = { look: 2000, answer: 3000, stuck: 60_000 };

export const noAnswer = 'The database does not answer.';

/** Looks again and again, each time a while after the last look is over. The answer ends it, and settles once no look goes on. */
function again(look: () => void | Promise<void>, everyMs: number): () => Promise<void> {
  let timer: ReturnType<typeof setTimeout>;
  let ended = false;
  let looking = Promise.resolve();
  const next = () => {
    timer = setTimeout(() => {
      looking = Promise.resolve(look()).then(() => (ended ? undefined : next()));
    }, everyMs);
    timer.unref();
  };
  next();
  return () => {
    ended = true;
    clearTimeout(timer);
    return looking;
  };
}

/**
 * Watches a database. While it does not answer, as one that is frozen, `away` is called at every look, to break off who waits for
 * it, and `told` says so once, and null when it answers again. The answer ends the watch, and settles once it has.
 */
export function watchDatabase(
  url: string,
  away: () => void,
  told: (wrong: string | null) => void,
  ms: Pick<typeof usual, 'look' | 'answer'> = usual,
): () => Promise<void> {
  let ended = false;
  let client: pg.Client | null = null;
  let wrong: string | null = null;
  const say = (now: string | null) => {
    if (now !== wrong) told((wrong = now));
  };
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
  const stop = again(async () => {
    // One connection may break; two in a row do not.
    const there = (await answers()) || (await answers());
    if (ended) return;
    if (!there) away();
    say(there ? null : noAnswer);
  }, ms.look);
  return () => {
    ended = true;
    drop();
    return stop();
  };
}

/** Watches a pool. Where somebody waits and no connection has come back for long, `over` tells why: only another process mends that. */
export function watchPool(
  pool: pg.Pool,
  over: (reason: string) => void,
  ms: Pick<typeof usual, 'look' | 'stuck'> = usual,
): () => Promise<void> {
  let moved = performance.now();
  const onMove = () => (moved = performance.now());
  pool.on('release', onMove);
  pool.on('remove', onMove);
  const stop = again(() => {
    if (pool.waitingCount === 0 || pool.idleCount > 0) onMove();
    if (performance.now() - moved > ms.stuck)
      over(`No connection came back for ${ms.stuck / 1000} seconds, and ${pool.waitingCount} wait for one.`);
  }, ms.look);
  return () => {
    pool.off('release', onMove);
    pool.off('remove', onMove);
    return stop();
  };
}
