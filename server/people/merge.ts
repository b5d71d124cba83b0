import type { Id } from '@ulkret/core/breakdown';
import { mergedStudent, type Student } from '@ulkret/core/people';
import { and, eq, or } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { reps, students } from '../db/schema';
import { tellOfAll } from '../signals/tell';
import { markAllStale } from '../signals/stale';
import { readingsChanged } from '../signals/version';
import { renamePerson } from './rename-person';
import { person } from './roster';

/**
 * Makes one person of two that are the same: all that names the one names the other from then on. Two who have drilled with each other
 * are two ('met'); null where one of them is not there.
 */
export const mergeStudents = (db: Db, academyId: Id, from: Id, into: Id): Promise<Student | 'met' | null> =>
  db.transaction(async (tx) => {
    // Anybody who changes one of the two at the same time waits, or comes first.
    await tx
      .select({ id: students.id })
      .from(students)
      .where(and(eq(students.academyId, academyId), or(eq(students.id, from), eq(students.id, into))))
      .for('update');
    const [one, other] = [await person(tx, academyId, from), await person(tx, academyId, into)];
    if (!one || !other || from === into) return null;
    const together = or(
      and(eq(reps.student, from), eq(reps.partner, into)),
      and(eq(reps.student, into), eq(reps.partner, from)),
    );
    const [met] = await tx
      .select({ id: reps.id })
      .from(reps)
      .where(and(eq(reps.academyId, academyId), together))
      .limit(1);
    if (met) return 'met';
    const student = mergedStudent(other, one);
    await tx
      .update(students)
      .set({ student })
      .where(and(eq(students.academyId, academyId), eq(students.id, into)));
    await renamePerson(tx, academyId, from, into);
    await markAllStale(tx, academyId, into);
    await readingsChanged(tx, academyId);
    await tellOfAll(tx, academyId);
    return student;
  });
