import type { AccessKind, OutputOf, endpoints } from '@ulkret/contract';
import type { Id } from '@ulkret/core/breakdown';
import { and, desc, eq, sql } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { accesses, coaches, students } from '../db/schema';

const pageSize = 100;
/** Repeated views within this time are one view: an open page asks again on its own. */
const oneLook = sql`interval '15 minutes'`;

/** Writes down who looked at, changed or took out what is personal. */
export async function writeDown(
  db: Db,
  { academyId, id: by }: { academyId: Id; id: Id },
  what: AccessKind,
  about: Id | null,
): Promise<void> {
  await db.execute(sql`
    insert into ${accesses} (academy_id, by, what, about)
    select ${academyId}, ${by}, ${what}, ${about}::text
    where ${what} <> 'looked at' or not exists (
      select 1 from ${accesses}
      where academy_id = ${academyId} and at > now() - ${oneLook}
        and by = ${by} and what = ${what} and about is not distinct from ${about}::text)`);
}

/** A page of the log, latest first; entries older than the limit are deleted on the way. */
export async function accessesOf(
  db: Db,
  academyId: Id,
  { before, about, months }: { before?: string | undefined; about?: Id | undefined; months: number },
): Promise<OutputOf<(typeof endpoints)['accesses']>> {
  const ofAcademy = eq(accesses.academyId, academyId);
  await db
    .delete(accesses)
    .where(and(ofAcademy, sql`${accesses.at} < now() - make_interval(months => ${months})`));
  const rows = await db
    .select({
      id: accesses.id,
      at: accesses.at,
      by: sql<string>`coalesce(${coaches.name}, ${accesses.by})`,
      what: accesses.what,
      about: sql<string | null>`coalesce(${students.name}, ${accesses.about})`,
    })
    .from(accesses)
    .leftJoin(coaches, and(eq(coaches.academyId, accesses.academyId), eq(coaches.id, accesses.by)))
    .leftJoin(students, and(eq(students.academyId, accesses.academyId), eq(students.id, accesses.about)))
    .where(
      and(
        ofAcademy,
        before === undefined
          ? undefined
          : sql`(${accesses.at}, ${accesses.id}) < (
              select one.at, one.id from ${accesses} as one where one.academy_id = ${academyId} and one.id = ${before})`,
        about === undefined ? undefined : eq(accesses.about, about),
      ),
    )
    .orderBy(desc(accesses.at), desc(accesses.id))
    .limit(pageSize + 1);
  return { accesses: rows.slice(0, pageSize), more: rows.length > pageSize };
}
