import { endpoints } from '@ulkret/contract';
import type { Router } from 'express';
import type { Db } from '../db/connect';
import { answer } from '../http/gate';
import { Refused } from '../refused';
import { houseRulesOf, saveRules } from '../care/rules';

export function careRoutes(router: Router, db: Db): void {
  answer(router, db, endpoints.rules, (_, { coach }) => houseRulesOf(db, coach.academyId));
  answer(router, db, endpoints.saveRules, async ({ body }, { coach: { academyId, id } }) => {
    if (!(await saveRules(db, academyId, body, id)))
      throw new Refused(
        409,
        'Somebody else has changed the rules in the meantime.',
        'Nothing of yours was kept: look at what stands there now, and change it again.',
      );
    return houseRulesOf(db, academyId);
  });
}
