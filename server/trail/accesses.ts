import { type AccessKind, type endpoints, notableAccesses, type OutputOf } from '@ulkret/contract';
import type { Id } from '@ulkret/core/breakdown';
import { and, desc, eq, gt, inArray, sql } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { accesses, coaches, students } from '../db/schema';

const pageSize = 100;
/** Repeated views within this time are one view: an open page asks again on its own. Wrong passwords come in bursts. */
const oneLook = { 'looked at': '15 minutes', 'failed to sign in': '1 minute' } as Partial<
  Record<AccessKind, string>
>;

/**
 * Writes down who looked at, changed or took out what is personal, who came in or failed to, and who may what. The table is only added
 * to, and each entry holds the hash of the one before.
 */
export async function writeDown(
  db: Db,
  { academyId, id: by }: { academyId: Id; id: Id },
  what: AccessKind,
  about: Id | null = null,
  words = '',
): Promise<void> {
  const once = oneLook[what] ?? null;
  await db.execute(sql`
    insert into ${accesses} (academy_id, by, what, about, words)
    select ${academyId}, ${by}, ${what}, ${about}::text, ${words}
    where ${once}::text is null or not exists (
      select 1 from ${accesses}
      where academy_id = ${academyId} and at > now() - ${once}::interval
        and by = ${by} and what = ${what} and about is not distinct from ${about}::text)`);
}

/** Is every entry as it was written, and none missing in between? */
async function isWhole(db: Db, academyId: Id): Promise<boolean> {
  const { rows } = await db.execute<{ whole: boolean | null }>(sql`
    select bool_and(
      hash = access_hash(prev, said)
      and (salt is null or about_mark = access_hash(salt::text, about))
      and case when before is null then seq = 1 or seq - 1 = forgotten else prev = before and seq = last + 1 end) as whole
    from (
      select ${accesses}.*, access_said(${accesses}) as said, lag(hash) over w as before, lag(seq) over w as last, (
        select max(substr(words, 7)::integer) from ${accesses} where academy_id = ${academyId} and what = 'forgot earlier entries'
      ) as forgotten
      from ${accesses} where academy_id = ${academyId} window w as (order by seq)
    ) as chain`);
  return rows[0]?.whole ?? true;
}

/** A page of the log, latest first; entries older than the house keeps are forgotten on the way, and an entry says so. */
export async function accessesOf(
  db: Db,
  academyId: Id,
  of: { before?: string | undefined; about?: Id | undefined; months: number },
): Promise<OutputOf<(typeof endpoints)['accesses']>> {
  await db.execute(sql`select forget_accesses(${academyId}, 'the rules', ${of.months})`);
  const { before, about } = of;
  const rows = await rowsOf(
    db,
    academyId,
    and(
      before === undefined
        ? undefined
        : sql`${accesses.seq} < (select seq from ${accesses} as one where one.academy_id = ${academyId} and one.id = ${before})`,
      about === undefined ? undefined : eq(accesses.about, about),
    ),
    pageSize + 1,
  );
  return {
    accesses: rows.slice(0, pageSize),
    more: rows.length > pageSize,
    whole: await isWhole(db, academyId),
  };
}

const mostNotable = 6;

/** What a head coach wants to hear of the last week: what others took out, opened or closed, and who failed to come in. */
export const notableOf = (db: Db, academyId: Id, head: Id) =>
  rowsOf(
    db,
    academyId,
    and(
      gt(accesses.at, sql`now() - interval '7 days'`),
      inArray(accesses.what, [...notableAccesses]),
      sql`(${accesses.by} <> ${head} or ${accesses.what} = 'failed to sign in')`,
    ),
    mostNotable,
  );

const rowsOf = (db: Db, academyId: Id, which: ReturnType<typeof and>, most: number) =>
  db
    .select({
      id: accesses.id,
      at: accesses.at,
      by: sql<string>`coalesce(${coaches.name}, ${accesses.by})`,
      what: accesses.what,
      about: sql<string | null>`coalesce(${students.name}, (
        select name from ${coaches} as one where one.academy_id = ${academyId} and one.id = ${accesses.about}
      ), ${accesses.about})`,
      words: accesses.words,
    })
    .from(accesses)
    .leftJoin(coaches, and(eq(coaches.academyId, accesses.academyId), eq(coaches.id, accesses.by)))
    .leftJoin(students, and(eq(students.academyId, accesses.academyId), eq(students.id, accesses.about)))
    .where(and(eq(accesses.academyId, academyId), which))
    .orderBy(desc(accesses.seq))
    .limit(most);
