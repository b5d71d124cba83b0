import { type Endpoint, endpoints, openApi } from '@ulkret/contract';
import type { Router } from 'express';
import { type Db, reach } from '../db/connect';
import { answer } from '../http';
import type { Settings } from '../settings';

export function keepingRoutes(router: Router, db: Db, { version }: Pick<Settings, 'version'>): void {
  answer(router, db, endpoints.health, async () => {
    await reach(db);
    return { status: 'ok' as const, version, database: 'ok' as const };
  });
  const document = openApi(endpoints as Readonly<Record<string, Endpoint>>, version);
  router.get('/api/openapi.json', (_, response) => void response.json(document));
}
