import type { Id, Side } from '@ulkret/core/breakdown';
import type { Student } from '@ulkret/core/people';
import { eq } from 'drizzle-orm';
import type { Db } from './connect';
import { students } from './schema';

export async function roster(db: Db, academyId: Id): Promise<Student[]> {
  const rows = await db
    .select({ student: students.student })
    .from(students)
    .where(eq(students.academyId, academyId))
    .orderBy(students.name, students.id);
  return rows.map(({ student }) => student);
}

export async function saveStudent(db: Db, academyId: Id, student: Student): Promise<Student> {
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
