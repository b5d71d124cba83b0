import { type Endpoint, endpoints, type Keeping, openApi } from '@ulkret/contract';
import type { Router } from 'express';
import { type Db, reach, sizeOf } from '../db/connect';
import { answer } from '../http/gate';
import { notFound, Refused } from '../refused';
import type { Settings } from './settings';
import { BackupFault } from '../keeping/backup';

/** What could not be done with a backup, as a refusal with what to do. */
async function orSay<T>(doing: Promise<T>): Promise<T> {
  try {
    return await doing;
  } catch (error) {
    if (!(error instanceof BackupFault)) throw error;
    throw new Refused(422, error.message, 'Fix it on the server, then try again; the data did not change.');
  }
}

export function keepingRoutes(
  router: Router,
  db: Db,
  {
    version,
    keeper,
    whatIsWrong,
    transfers,
  }: Pick<Settings, 'version' | 'keeper' | 'whatIsWrong' | 'transfers'>,
): void {
  const wrong = async (): Promise<string[]> => [whatIsWrong() ?? [], (await keeper?.wrong()) ?? []].flat();
  answer(router, db, endpoints.health, async () => {
    await reach(db);
    const told = await wrong();
    const status = told.length > 0 ? ('trouble' as const) : ('ok' as const);
    return { status, version, database: 'ok' as const, wrong: told };
  });
  const keeping = async (): Promise<Keeping> => {
    const kept = (await keeper?.state()) ?? null;
    return { version, kept, databaseBytes: await sizeOf(db), wrong: await wrong() };
  };
  const kept = () => {
    if (!keeper) throw notFound('keeper of backups here; ask the database’s admin');
    return keeper;
  };
  answer(router, db, endpoints.keeping, () => keeping());
  answer(router, db, endpoints.backUp, async () => {
    await orSay(kept().make());
    return keeping();
  });
  answer(router, db, endpoints.tryBackup, async ({ params: { name } }) => ({
    name,
    ...(await orSay(kept().test(name))),
  }));
  answer(router, db, endpoints.exportAcademy, (_, { coach, response }) => {
    response.attachment('academy.zip');
    return transfers.out('academy', coach.academyId, version);
  });
  answer(router, db, endpoints.importAcademy, async ({ body }, { coach }) => {
    try {
      return await transfers.in(coach.academyId, coach.id, body);
    } catch (error) {
      const { name, message } = error as Error;
      if (name !== 'ArchiveFault') throw error;
      throw new Refused(422, message, 'Nothing was saved; this academy did not change.');
    }
  });
  // Made when it is first asked for: it is every schema of every path, and hardly anybody reads it.
  let document: ReturnType<typeof openApi> | null = null;
  router.get('/api/openapi.json', (_, response) => {
    document ??= openApi(endpoints as Readonly<Record<string, Endpoint>>, version);
    response.json(document);
  });
}
