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
        'Somebody else changed the rules at the same time.',
        'Your changes were not saved: look at the current rules, and change them again.',
      );
    return houseRulesOf(db, academyId);
  });
}
