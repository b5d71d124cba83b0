import type { Id } from '@ulkret/core/breakdown';
import { weekOf } from '@ulkret/core/reading';
import type { Rep } from '@ulkret/core/rep';
import { and, eq, or, sql } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { reps, staleWeeks } from '../db/schema';

/** What is tallied at once: a student's week on a technique. Marks are of weeks from a Monday on, whenever the house begins its own. */
export interface Group {
  technique: Id;
  student: Id;
  week: string;
}

/** The weeks that reps lie in, in an order in which two ingests cannot lock each other out. */
const groupsOf = (list: readonly Rep[]): Group[] =>
  [
    ...new Map(
      list.map(({ technique, student, at }) => {
        const group = { technique, student, week: weekOf(at) };
        return [`${technique} ${student} ${group.week}`, group] as const;
      }),
    ),
  ]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([, group]) => group);

/**
 * Marks the weeks of reps as changed, in the transaction that changes them. An existing mark is touched anyway: a
 * tally in progress leaves a touched mark, and is taken again.
 */
export async function markStale(db: Db, academyId: Id, list: readonly Rep[]): Promise<void> {
  const groups = groupsOf(list);
  if (groups.length === 0) return;
  await db
    .insert(staleWeeks)
    .values(groups.map((group) => ({ academyId, ...group })))
    .onConflictDoUpdate({
      target: [staleWeeks.academyId, staleWeeks.technique, staleWeeks.student, staleWeeks.week],
      set: { since: sql`now()` },
    });
}

/** Marks all weeks of an academy's reps, or those of one person: their tallies are taken again. */
export async function markAllStale(db: Db, academyId: Id, person?: Id): Promise<void> {
  const whose = person === undefined ? undefined : or(eq(reps.student, person), eq(reps.partner, person));
  await db.execute(sql`
    insert into ${staleWeeks} (academy_id, technique, student, week)
    select * from (
      select distinct ${reps.academyId}, ${reps.technique}, ${reps.student},
        date_trunc('week', ${reps.at} at time zone 'UTC')::date as week
      from ${reps} where ${and(eq(reps.academyId, academyId), whose)}) as weeks
    order by technique collate "C", student collate "C", week
    on conflict (academy_id, technique, student, week) do update set since = now()`);
}
