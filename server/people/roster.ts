import type { Id, Side } from '@ulkret/core/breakdown';
import type { Student } from '@ulkret/core/people';
import { and, eq } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { students } from '../db/schema';
import { markAllStale } from '../readings/stale';
import { readingsChanged } from '../readings/version';

export async function roster(db: Db, academyId: Id): Promise<Student[]> {
  const rows = await db
    .select({ student: students.student })
    .from(students)
    .where(eq(students.academyId, academyId))
    .orderBy(students.name, students.id);
  return rows.map(({ student }) => student);
}

/** Keeps a student. A mass that changed is a partner's mass to others, so their tallies are taken anew as well. */
export async function saveStudent(db: Db, academyId: Id, student: Student): Promise<Student> {
  const [before] = await db
    .select({ student: students.student })
    .from(students)
    .where(and(eq(students.academyId, academyId), eq(students.id, student.id)));
  if (before && before.student.massKg !== student.massKg) await markAllStale(db, academyId, student.id);
  if (before?.student.mainSide !== student.mainSide) await readingsChanged(db, academyId);
  await db
    .insert(students)
    .values({ academyId, id: student.id, name: student.name, student })
    .onConflictDoUpdate({
      target: [students.academyId, students.id],
      set: { name: student.name, student },
    });
  return student;
}

export const mainSidesOf = async (db: Db, academyId: Id): Promise<Map<Id, Side>> =>
  new Map((await roster(db, academyId)).map(({ id, mainSide }) => [id, mainSide]));
