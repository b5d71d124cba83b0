import type { Attendance } from '@ulkret/contract';
import type { Id } from '@ulkret/core/breakdown';
import { and, count, eq, inArray, or, sql } from 'drizzle-orm';
import { sessionsWith } from '../class/sessions';
import type { Db } from '../db/connect';
import { reps, sessions } from '../db/schema';
import { notVoided } from '../facts/read';

const times = (who: typeof reps.student | typeof reps.partner, id: Id) =>
  sql<number>`(count(*) filter (where ${who} = ${id}))::int`;

/** The classes that somebody was in, paired or with a rep, the latest first; and their reps that came without a class. */
export async function attendanceOf(db: Db, academyId: Id, id: Id): Promise<Attendance> {
  const counted = await db
    .select({
      session: reps.session,
      attacked: times(reps.student, id),
      partnered: times(reps.partner, id),
      all: count(),
    })
    .from(reps)
    .where(and(eq(reps.academyId, academyId), or(eq(reps.student, id), eq(reps.partner, id)), notVoided))
    .groupBy(reps.session);
  const paired = await sessionsWith(db, academyId, id);
  const there = new Set(paired.map((one) => one.id));
  const late = counted.flatMap(({ session }) => (session && !there.has(session) ? [session] : []));
  const more =
    late.length === 0
      ? []
      : await db
          .select({ id: sessions.id, startedAt: sessions.startedAt, technique: sessions.techniqueId })
          .from(sessions)
          .where(and(eq(sessions.academyId, academyId), inArray(sessions.id, late)));
  const of = new Map(counted.map((one) => [one.session, one]));
  const known = new Set([...paired, ...more].map((one) => one.id));
  return {
    sessions: [...paired, ...more]
      .map((one) => ({
        ...one,
        attacked: of.get(one.id)?.attacked ?? 0,
        partnered: of.get(one.id)?.partnered ?? 0,
      }))
      .sort((a, b) => (a.startedAt < b.startedAt ? 1 : -1)),
    repsWithoutSession: counted
      .filter(({ session }) => session === null || !known.has(session))
      .reduce((sum, one) => sum + one.all, 0),
  };
}
