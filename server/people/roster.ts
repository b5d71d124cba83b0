import { type Id, merge, type Side } from '@ulkret/core/breakdown';
import { newStudent, type Student } from '@ulkret/core/people';
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
  // What a body was not asked for when it was kept is not known of it.
  return rows.map(({ student }) => newStudent(student));
}

/** Somebody of the roster; null where nobody has that id. */
export async function person(db: Db, academyId: Id, id: Id): Promise<Student | null> {
  const [found] = await db
    .select({ student: students.student })
    .from(students)
    .where(and(eq(students.academyId, academyId), eq(students.id, id)));
  return found ? newStudent(found.student) : null;
}

/** A field as it is called on the screen. */
const fieldWords = (path: readonly (string | number)[]): string =>
  String(path[0])
    .replace(/Cm$|Kg$/, '')
    .replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`);

/**
 * Keeps a student; with what they were when the change began, only what was changed of it, or nothing where another has
 * changed the same (`contested`). A mass that changed is a partner's mass to others, so their tallies are taken anew as well: at once with
 * it, so that no reading is ever made of the one without the other.
 */
export const saveStudent = (
  db: Db,
  academyId: Id,
  given: Student,
  base?: Student,
): Promise<Student | { contested: string[] }> =>
  db.transaction(async (tx) => {
    const [before] = await tx
      .select({ student: students.student })
      .from(students)
      .where(and(eq(students.academyId, academyId), eq(students.id, given.id)))
      .for('update');
    // Two who change different things of one person both have their way.
    const { merged: student, conflicts } =
      base && before
        ? merge(newStudent(base), given, newStudent(before.student))
        : { merged: given, conflicts: [] };
    if (conflicts.length > 0) return { contested: conflicts.map(({ path }) => fieldWords(path)) };
    await tx
      .insert(students)
      .values({ academyId, id: student.id, name: student.name, student })
      .onConflictDoUpdate({
        target: [students.academyId, students.id],
        set: { name: student.name, student },
      });
    if (before && before.student.massKg !== student.massKg) await markAllStale(tx, academyId, student.id);
    if (before?.student.mainSide !== student.mainSide) await readingsChanged(tx, academyId);
    return student;
  });

export const mainSidesOf = async (db: Db, academyId: Id): Promise<Map<Id, Side>> =>
  new Map((await roster(db, academyId)).map(({ id, mainSide }) => [id, mainSide]));
