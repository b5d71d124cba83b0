import { endpoints } from '@ulkret/contract';
import type { Router } from 'express';
import type { Db } from '../db/connect';
import { library, technique } from '../db/techniques';
import { answer, notFound } from '../http';

export function libraryRoutes(router: Router, db: Db): void {
  answer(router, db, endpoints.techniques, async (_, { coach }) => ({
    techniques: await library(db, coach.academyId),
  }));
  answer(router, db, endpoints.technique, async ({ params }, { coach }) => {
    const found = await technique(db, coach.academyId, params.id);
    if (!found) throw notFound(`technique "${params.id}" in the library`);
    return found;
  });
}
