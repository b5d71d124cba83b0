import type { Id } from '@ulkret/core/breakdown';
import { renamedInSession, Session, withoutWordsFor } from '@ulkret/core/session';
import { and, eq, or, sql } from 'drizzle-orm';
import type { Db } from '../db/connect';
import {
  accesses,
  cardLinks,
  coaches,
  invitations,
  personNotes,
  sessions,
  students,
  tallies,
} from '../db/schema';
import { renamedAnywhere, renameInFacts } from '../facts/about';

/**
 * Puts another id in the place of a person's everywhere, and takes the person off the roster; the other one is on it. Facts
 * keep their content: only the id changes, and where somebody is erased what a class says in words written for them goes.
 */
export async function renamePerson(
  tx: Db,
  academyId: Id,
  from: Id,
  to: Id,
  { erased = false } = {},
): Promise<void> {
  await renameInFacts(tx, academyId, from, to);
  for (const [table, field] of [
    [personNotes, 'person'],
    [accesses, 'about'],
    [cardLinks, 'studentId'],
    [invitations, 'studentId'],
    [coaches, 'studentId'],
  ] as const) {
    const column = (table as unknown as Record<string, typeof personNotes.person>)[field]!;
    await tx
      .update(table)
      .set({ [field]: to })
      .where(and(eq(table.academyId, academyId), eq(column, from)));
  }
  const mention = `%${JSON.stringify(from).replaceAll(/[%_\\]/g, '\\$&')}%`;
  for (const row of await tx
    .select()
    .from(sessions)
    .where(and(eq(sessions.academyId, academyId), sql`${sessions.session}::text like ${mention}`))) {
    const { data } = Session.safeParse(row.session);
    await tx
      .update(sessions)
      .set({
        session: data
          ? renamedInSession(erased ? withoutWordsFor(data, from) : data, from, to)
          : renamedAnywhere(row.session, from, to),
      })
      .where(and(eq(sessions.academyId, academyId), eq(sessions.id, row.id)));
  }
  await tx
    .delete(tallies)
    .where(and(eq(tallies.academyId, academyId), or(eq(tallies.student, from), eq(tallies.student, to))));
  await tx.execute(sql`delete from stale_weeks where academy_id = ${academyId} and student = ${from}`);
  await tx.delete(students).where(and(eq(students.academyId, academyId), eq(students.id, from)));
}
