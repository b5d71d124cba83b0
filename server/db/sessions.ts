import type { Id } from '@ulkret/core/breakdown';
import type { Session } from '@ulkret/core/rep';
import type { SessionRow } from '@ulkret/contract';
import { and, count, countDistinct, desc, eq, inArray } from 'drizzle-orm';
import type { Db } from './connect';
import { notVoided } from './facts';
import { reps, sessions } from './schema';

const mostRows = 60;

export async function sessionRows(db: Db, academyId: Id): Promise<SessionRow[]> {
  const rows = await db
    .select({ id: sessions.id, session: sessions.session })
    .from(sessions)
    .where(eq(sessions.academyId, academyId))
    .orderBy(desc(sessions.startedAt))
    .limit(mostRows);
  if (rows.length === 0) return [];
  const counted = await db
    .select({ session: reps.session, reps: count(), students: countDistinct(reps.student) })
    .from(reps)
    .where(
      and(
        eq(reps.academyId, academyId),
        notVoided,
        inArray(
          reps.session,
          rows.map(({ id }) => id),
        ),
      ),
    )
    .groupBy(reps.session);
  return rows.map(({ id, session }) => {
    const counts = counted.find((row) => row.session === id);
    return { session, reps: counts?.reps ?? 0, students: counts?.students ?? 0 };
  });
}

export async function drillingSession(db: Db, academyId: Id, id: string): Promise<Session | null> {
  const [found] = await db
    .select({ session: sessions.session })
    .from(sessions)
    .where(and(eq(sessions.academyId, academyId), eq(sessions.id, id)));
  return found?.session ?? null;
}

export async function saveSession(db: Db, academyId: Id, session: Session): Promise<Session> {
  const { id, technique: techniqueId, startedAt } = session;
  await db
    .insert(sessions)
    .values({ academyId, id, techniqueId, startedAt, session })
    .onConflictDoUpdate({
      target: [sessions.academyId, sessions.id],
      set: { techniqueId, startedAt, session },
    });
  return session;
}
