import type { Id } from '@ulkret/core/breakdown';
import { and, eq, or, sql } from 'drizzle-orm';
import type { Db } from '../db/connect';
import {
  accesses,
  cardLinks,
  careNotes,
  changes,
  coaches,
  invitations,
  overrides,
  personNotes,
  reps,
  sessions,
  steps,
  students,
  tallies,
} from '../db/schema';

/** The fields of what is kept as JSON that name people. */
const naming = new Set(['pairs', 'pair', 'student', 'partner', 'about', 'person']);

/** The same value with another id in the place of a person's, wherever a field names people. */
export function renamed<T>(value: T, from: Id, to: Id, names = false): T {
  if (names && value === from) return to as T;
  if (Array.isArray(value)) return value.map((one: unknown) => renamed(one, from, to, names)) as T;
  if (value && typeof value === 'object')
    return Object.fromEntries(
      Object.entries(value).map(([key, one]) => [key, renamed(one as unknown, from, to, naming.has(key))]),
    ) as T;
  return value;
}

/** Rows whose JSON says an id somewhere. */
const saying = (column: typeof changes.set | typeof sessions.session, id: Id) => {
  const [before, after] = [sql.raw(`'%' || $$"$$ || `), sql.raw(`$$"$$ || '%'`)];
  return sql`${column}::text like ${before}${id.replaceAll(/[%_\\]/g, '\\$&')}::text || ${after}`;
};

/**
 * Puts another id in the place of a person's in all that names them, and takes the person off the roster; the other one is on it. Facts
 * say what they said, of whom they said it: only what that one is called changes.
 */
export async function renamePerson(tx: Db, academyId: Id, from: Id, to: Id): Promise<void> {
  for (const [table, field] of [
    [reps, 'student'],
    [reps, 'partner'],
    [overrides, 'student'],
    [overrides, 'partner'],
    [steps, 'student'],
    [careNotes, 'person'],
    [personNotes, 'person'],
    [accesses, 'about'],
    [cardLinks, 'studentId'],
    [invitations, 'studentId'],
    [coaches, 'studentId'],
  ] as const) {
    const column = (table as unknown as Record<string, typeof reps.student>)[field]!;
    await tx
      .update(table)
      .set({ [field]: to })
      .where(and(eq(table.academyId, academyId), eq(column, from)));
  }
  for (const row of await tx
    .select()
    .from(changes)
    .where(and(eq(changes.academyId, academyId), saying(changes.set, from))))
    await tx
      .update(changes)
      .set({ set: renamed(row.set, from, to) })
      .where(and(eq(changes.academyId, academyId), eq(changes.id, row.id)));
  for (const row of await tx
    .select()
    .from(sessions)
    .where(and(eq(sessions.academyId, academyId), saying(sessions.session, from))))
    await tx
      .update(sessions)
      .set({ session: renamed(row.session, from, to) })
      .where(and(eq(sessions.academyId, academyId), eq(sessions.id, row.id)));
  await tx
    .delete(tallies)
    .where(and(eq(tallies.academyId, academyId), or(eq(tallies.student, from), eq(tallies.student, to))));
  await tx.execute(sql`delete from stale_weeks where academy_id = ${academyId} and student = ${from}`);
  await tx.delete(students).where(and(eq(students.academyId, academyId), eq(students.id, from)));
}
