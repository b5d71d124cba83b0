import { AsyncLocalStorage } from 'node:async_hooks';
import type { Id } from '@ulkret/core/breakdown';
import { type SQL, sql } from 'drizzle-orm';
import pg from 'pg';

const here = new AsyncLocalStorage<Id>();

/** Runs something that sees and writes the rows of one academy alone: a second wall, behind the condition in every query. */
export const within = <T>(academyId: Id, run: () => PromiseLike<T>): Promise<T> =>
  // A query is only asked once it is waited for.
  here.run(academyId, async () => await run());

/** Asks something about all academies in a transaction that is within one. */
export async function ofAll<T>(
  tx: { execute(query: SQL): PromiseLike<unknown> },
  ask: () => Promise<T>,
): Promise<T> {
  const inside = here.getStore() ?? '';
  const see = (academy: Id) => tx.execute(sql`select set_config('ulkret.academy', ${academy}, true)`);
  await see('');
  const told = await ask();
  await see(inside);
  return told;
}

/** The academy that was set on a connection last. */
const toldOf = new WeakMap<pg.PoolClient, Id>();

type Handed = (
  error: Error | undefined,
  client: pg.PoolClient | undefined,
  release: (error?: Error | boolean) => void,
) => void;

/** A pool that sets on a connection the academy of the one who takes it, where it is another than before. */
export class PoolWithin extends pg.Pool {
  override connect(): Promise<pg.PoolClient>;
  override connect(handed: Handed): void;
  override connect(handed?: Handed): Promise<pg.PoolClient> | void {
    const academy = here.getStore() ?? '';
    const ready = this.ready(academy);
    if (!handed) return ready;
    ready.then(
      (client) => handed(undefined, client, (error) => client.release(error)),
      (error: Error) => handed(error, undefined, () => undefined),
    );
  }

  private async ready(academy: Id): Promise<pg.PoolClient> {
    const client = await super.connect();
    if ((toldOf.get(client) ?? '') === academy) return client;
    try {
      await client.query("select set_config('ulkret.academy', $1, false)", [academy]);
      toldOf.set(client, academy);
      return client;
    } catch (error) {
      client.release(error as Error);
      throw error;
    }
  }
}
