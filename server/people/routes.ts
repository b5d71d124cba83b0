import { endpoints } from '@ulkret/contract';
import type { Router } from 'express';
import type { Db } from '../db/connect';
import { roster, saveStudent } from './roster';
import { answer, Refused } from '../http';

export function peopleRoutes(router: Router, db: Db): void {
  answer(router, db, endpoints.students, async (_, { coach }) => ({
    students: await roster(db, coach.academyId),
  }));
  answer(router, db, endpoints.saveStudent, async ({ params, body }, { coach }) => {
    if (params.id !== body.id)
      throw new Refused(
        400,
        'The address and the student have different ids.',
        'Send the student under its own id.',
      );
    return saveStudent(db, coach.academyId, body);
  });
}
