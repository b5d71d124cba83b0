import type { Id } from '@ulkret/core/breakdown';
import { Session } from '@ulkret/core/session';
import type { SessionRow } from '@ulkret/contract';
import { and, count, countDistinct, desc, eq, gte, inArray, sql } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { notVoided } from '../facts/read';
import { changes, reps, sessions } from '../db/schema';

const mostRows = 60;

/** The latest sessions, the latest first. */
export async function sessionRows(db: Db, academyId: Id, most = mostRows): Promise<SessionRow[]> {
  const rows = await db
    .select({ id: sessions.id, session: sessions.session })
    .from(sessions)
    .where(eq(sessions.academyId, academyId))
    .orderBy(desc(sessions.startedAt))
    .limit(most);
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
  // The latest end, or going on, says whether it has ended.
  const ends = await db
    .selectDistinctOn([changes.session], { session: changes.session, at: changes.at, set: changes.set })
    .from(changes)
    .where(
      and(
        eq(changes.academyId, academyId),
        inArray(
          changes.session,
          rows.map(({ id }) => id),
        ),
        sql`${changes.set} ->> 'is' in ('end', 'go on')`,
      ),
    )
    .orderBy(changes.session, desc(changes.at), desc(changes.id));
  const endOf = new Map(ends.map(({ session, at, set }) => [session, set.is === 'end' ? at : null]));
  return rows.flatMap(({ id, session: asSetUp }) => {
    const counts = counted.find((row) => row.session === id);
    const endedAt = endOf.has(id) ? endOf.get(id) : asSetUp.endedAt;
    const { data: session } = Session.safeParse({ ...asSetUp, endedAt });
    // Rows of an earlier release that no schema reads are set aside, and listed with the facts of their kind.
    return session === undefined ? [] : { session, reps: counts?.reps ?? 0, students: counts?.students ?? 0 };
  });
}

/** The ids of the sessions that began since an instant. */
export async function sessionsSince(db: Db, academyId: Id, since: string): Promise<string[]> {
  const rows = await db
    .select({ id: sessions.id })
    .from(sessions)
    .where(and(eq(sessions.academyId, academyId), gte(sessions.startedAt, since)));
  return rows.map(({ id }) => id);
}

/** The sessions in which somebody was paired, the latest first. */
export async function sessionsWith(
  db: Db,
  academyId: Id,
  person: Id,
): Promise<{ id: string; startedAt: string; technique: Id }[]> {
  const rows = await db
    .select({ id: sessions.id, startedAt: sessions.startedAt, technique: sessions.techniqueId })
    .from(sessions)
    .where(
      and(
        eq(sessions.academyId, academyId),
        sql`jsonb_path_exists(${sessions.session}, '$.pairs[*][*] ? (@ == $who)', ${JSON.stringify({ who: person })}::jsonb)`,
      ),
    )
    .orderBy(desc(sessions.startedAt));
  return rows;
}

export async function drillingSession(db: Db, academyId: Id, id: string): Promise<Session | null> {
  const [found] = await db
    .select({ session: sessions.session })
    .from(sessions)
    .where(and(eq(sessions.academyId, academyId), eq(sessions.id, id)));
  return found ? (Session.safeParse(found.session).data ?? null) : null;
}

/** What each of these sessions drills, as far as they are here. */
export async function techniquesOfSessions(
  db: Db,
  academyId: Id,
  ids: readonly string[],
): Promise<Map<string, Pick<Session, 'technique'>>> {
  if (ids.length === 0) return new Map();
  const rows = await db
    .select({ id: sessions.id, technique: sessions.techniqueId })
    .from(sessions)
    .where(and(eq(sessions.academyId, academyId), inArray(sessions.id, [...ids])));
  return new Map(rows.map(({ id, technique }) => [id, { technique }]));
}

/** Stores a session unless its id exists already; returns the stored one, or null if no reader understands it. */
export async function saveSession(db: Db, academyId: Id, session: Session): Promise<Session | null> {
  const { id, technique: techniqueId, startedAt } = session;
  await db.insert(sessions).values({ academyId, id, techniqueId, startedAt, session }).onConflictDoNothing();
  return drillingSession(db, academyId, id);
}
