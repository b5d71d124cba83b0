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
    const { base, ...student } = body;
    const saved = await saveStudent(db, coach.academyId, student, base);
    if ('contested' in saved)
      throw new Refused(
        409,
        `Somebody else has changed ${saved.contested.join(' and ')} of ${student.name} in the meantime.`,
        'Nothing of yours was kept: close this, look at what stands there now, and change it again.',
      );
    return saved;
  });
}
