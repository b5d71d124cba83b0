import { type Id, merge, type Side } from '@ulkret/core/breakdown';
import { mayAsk, type Role } from '@ulkret/contract';
import { forLogging, measuredFacts, newStudent, readStudent, type Student } from '@ulkret/core/people';
import { and, eq, inArray, ne, sql } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { students } from '../db/schema';
import { tellOfAll } from '../signals/tell';
import { markAllStale } from '../signals/stale';
import { readingsChanged } from '../signals/version';

export async function roster(db: Db, academyId: Id): Promise<Student[]> {
  const rows = await db
    .select({ student: students.student })
    .from(students)
    .where(eq(students.academyId, academyId))
    .orderBy(students.name, students.id);
  return rows.flatMap(({ student }) => readStudent(student).student ?? []);
}

/** People as a role sees them. */
export const asSeenBy = (role: Role, people: readonly Student[]): Student[] =>
  mayAsk(role, 'coach') ? [...people] : people.map((one) => forLogging(one, todayIs()));

/** The given ids that are not on the roster now. */
export async function strangersAmong(db: Db, academyId: Id, ids: readonly Id[]): Promise<Id[]> {
  if (ids.length === 0) return [];
  const rows = await db
    .select({ id: students.id })
    .from(students)
    .where(and(eq(students.academyId, academyId), inArray(students.id, [...ids])));
  const there = new Set(rows.map(({ id }) => id));
  return ids.filter((id) => !there.has(id));
}

/** Somebody of the roster; null where nobody has that id. */
export async function person(db: Db, academyId: Id, id: Id): Promise<Student | null> {
  const [found] = await db
    .select({ student: students.student })
    .from(students)
    .where(and(eq(students.academyId, academyId), eq(students.id, id)));
  return found ? readStudent(found.student).student : null;
}

const sameName = (a: string | undefined, b: string): boolean =>
  a?.trim().toLocaleLowerCase() === b.trim().toLocaleLowerCase();

const todayIs = () => new Date().toISOString().slice(0, 10);

/** When each body fact was measured, and by whom: a changed value was measured just now by the caller. */
function measuredNow(now: Student, before: Student | null, by: string): Student['measured'] {
  const on = todayIs();
  return Object.fromEntries(
    measuredFacts.flatMap((fact) => {
      if (now[fact] === null) return [];
      const known = now[fact] === before?.[fact] ? before.measured[fact] : { on, by };
      return known ? [[fact, known]] : [];
    }),
  );
}

/** A field's name on the screen. */
const fieldWords = (path: readonly (string | number)[]): string =>
  String(path[0])
    .replace(/Cm$|Kg$/, '')
    .replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`);

/**
 * Saves a student; with the student as the edit began, only the changed fields, or nothing if another coach changed
 * the same field (`contested`). A changed mass also changes a partner's mass for others, so their tallies are marked
 * in the same transaction: no reading ever mixes the two.
 */
export const saveStudent = (
  db: Db,
  academyId: Id,
  given: Student,
  { base, namesake = true, by }: { base?: Student | undefined; namesake?: boolean; by?: string } = {},
): Promise<Student | { contested: string[] } | { namesake: string }> =>
  db.transaction(async (tx) => {
    const [before] = await tx
      .select({ student: students.student })
      .from(students)
      .where(and(eq(students.academyId, academyId), eq(students.id, given.id)))
      .for('update');
    const known = before ? (readStudent(before.student).student ?? newStudent(before.student)) : null;
    // Two who change different things of one person both have their way.
    const { merged, conflicts } =
      base && known ? merge(newStudent(base), given, known) : { merged: given, conflicts: [] };
    if (conflicts.length > 0) return { contested: conflicts.map(({ path }) => fieldWords(path)) };
    if (!namesake && !sameName(known?.name, merged.name)) {
      const [other] = await tx
        .select({ name: students.name })
        .from(students)
        .where(
          and(
            eq(students.academyId, academyId),
            ne(students.id, merged.id),
            sql`lower(trim(${students.name})) = lower(trim(${merged.name}))`,
            sql`not coalesce((${students.student} ->> 'archived')::boolean, false)`,
          ),
        );
      if (other) return { namesake: other.name };
    }
    const student =
      by === undefined
        ? merged
        : {
            ...merged,
            measured: measuredNow(merged, known, by),
            archivedOn: merged.archived ? (known?.archived ? known.archivedOn : todayIs()) : null,
          };
    await tx
      .insert(students)
      .values({ academyId, id: student.id, name: student.name, student })
      .onConflictDoUpdate({
        target: [students.academyId, students.id],
        set: { name: student.name, student },
      });
    if (before && before.student.massKg !== student.massKg) await markAllStale(tx, academyId, student.id);
    if (before?.student.mainSide !== student.mainSide) await readingsChanged(tx, academyId);
    await tellOfAll(tx, academyId);
    return student;
  });

export const mainSidesOf = async (db: Db, academyId: Id): Promise<Map<Id, Side>> =>
  new Map((await roster(db, academyId)).map(({ id, mainSide }) => [id, mainSide]));
