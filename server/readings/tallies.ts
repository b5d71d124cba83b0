import { Day, type Id } from '@ulkret/core/breakdown';
import { tallyWeeks, type Weekday, weeksBefore, weeksIn, type WeekTally } from '@ulkret/core/reading';
import { standing } from '@ulkret/core/facts';
import { and, eq, getTableColumns, gte, inArray, lt, lte, type SQL, sql } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { factsWhere } from '../facts/read';
import { tellOfAll } from '../signals/tell';
import { roster } from '../people/roster';
import { academies, reps, staleWeeks, tallies } from '../db/schema';
import { readingsChanged } from '../signals/version';
import { type Group, markAllStale } from '../signals/stale';
import { editionsOf } from '../library/techniques';

const groupsAtOnce = 200;
/** From this many on, new rows mislead the planner, which would read all reps of the academy for each group. */
const newToThePlanner = 1000;

const asRows = (groups: readonly Group[]): SQL =>
  sql`jsonb_to_recordset(${JSON.stringify(groups)}::jsonb) as g(technique text, student text, week date)`;

const keyOf = ({ technique, student, week }: Group): string => `${technique} ${student} ${week}`;

/**
 * Condition on reps that holds for all in the groups, and for some others: plain enough to be looked up in the index on
 * technique, student and time. Groups come in that order, so that the others are few.
 */
function around(groups: readonly Group[], weekBegins: Weekday): SQL | undefined {
  const weeks = groups.map(({ week }) => week).sort();
  return and(
    inArray(reps.technique, [...new Set(groups.map(({ technique }) => technique))]),
    inArray(reps.student, [...new Set(groups.map(({ student }) => student))]),
    gte(reps.at, `${weeks[0]}T00:00:00Z`),
    lt(reps.at, `${weeksBefore(weeks.at(-1)!, -1, weekBegins)}T00:00:00Z`),
  );
}

/** The tallies of the reps that fit a condition, counted from the facts as they stand. */
async function counted(db: Db, academyId: Id, weekBegins: Weekday, which?: SQL): Promise<WeekTally[]> {
  const facts = await factsWhere(db, academyId, which);
  const techniques = [...new Set(facts.reps.map(({ technique }) => technique))];
  const masses = new Map((await roster(db, academyId)).map(({ id, massKg }) => [id, massKg]));
  return tallyWeeks(
    await editionsOf(db, academyId, techniques),
    standing(facts),
    (person) => masses.get(person) ?? null,
    weekBegins,
  );
}

/** Condition on a table of weeks: its row is one of the groups. */
const ofGroups = (table: typeof tallies | typeof staleWeeks, groups: readonly Group[]): SQL =>
  sql`(${table.technique}, ${table.student}, ${table.week}) in (select g.technique, g.student, g.week from ${asRows(groups)})`;

/** Adds tallies in one statement with one parameter, which costs a fraction of a parameter a value. */
async function addRows(db: Db, rows: readonly (typeof tallies.$inferInsert)[]): Promise<void> {
  const columns = Object.entries(getTableColumns(tallies));
  const named = rows.map((row) =>
    Object.fromEntries(columns.map(([field, { name }]) => [name, row[field as keyof typeof row]])),
  );
  await db.execute(sql`
    insert into ${tallies}
    select * from jsonb_populate_recordset(null::${tallies}, ${JSON.stringify(named)}::jsonb)`);
}

/** Readers of one academy take turns; senders of reps wait for none of them. */
const turnOf = (academyId: Id): SQL =>
  sql`select pg_advisory_xact_lock(hashtextextended(${academyId}, 7165540))`;

/**
 * Takes the tallies of some weeks again, if they are still marked. A mark that was touched since (its row has another
 * version) stays: later reps may not be counted yet.
 */
const refreshSome = (db: Db, academyId: Id, some: readonly Group[]): Promise<void> =>
  db.transaction(async (tx) => {
    await tx.execute(turnOf(academyId));
    const marks = await tx
      .select({
        technique: staleWeeks.technique,
        student: staleWeeks.student,
        week: staleWeeks.week,
        version: sql<string>`${staleWeeks}.xmin::text`,
      })
      .from(staleWeeks)
      .where(and(eq(staleWeeks.academyId, academyId), ofGroups(staleWeeks, some)));
    if (marks.length === 0) return;
    const weekBegins = await weekBeginsOf(tx, academyId);
    // In a week that no class can have been in there is nothing to count. What is marked are weeks from a Monday on.
    const groups = marks
      .filter(({ week }) => Day.safeParse(week).success)
      .flatMap((mark) => weeksIn(mark.week, weekBegins).map((week): Group => ({ ...mark, week })));
    const marked = new Set(groups.map(keyOf));
    const found =
      groups.length > 0 ? await counted(tx, academyId, weekBegins, around(groups, weekBegins)) : [];
    const rows = found.filter((tally) => marked.has(keyOf(tally))).map((tally) => ({ academyId, ...tally }));
    await tx.delete(tallies).where(and(eq(tallies.academyId, academyId), ofGroups(tallies, groups)));
    await addRows(tx, rows);
    await readingsChanged(tx, academyId);
    // Delete marks last and skip locked ones, so that two transactions never deadlock.
    await tx.execute(sql`
      with counted as materialized (
        select technique, student, week from ${staleWeeks}
        where academy_id = ${academyId} and (technique, student, week, ${staleWeeks}.xmin::text) in (
          select g.technique, g.student, g.week, g.version from jsonb_to_recordset(${JSON.stringify(marks)}::jsonb)
            as g(technique text, student text, week date, version text))
        for update skip locked)
      delete from ${staleWeeks} using counted
      where ${staleWeeks.academyId} = ${academyId} and ${staleWeeks.technique} = counted.technique
        and ${staleWeeks.student} = counted.student and ${staleWeeks.week} = counted.week`);
  });

/**
 * Brings the tallies up to date with the facts as of this question; later facts are for the next one, so that it ends
 * even during an import. Costs one look if nothing changed.
 */
export async function refreshTallies(db: Db, academyId: Id): Promise<void> {
  const marked = await db
    .select({ technique: staleWeeks.technique, student: staleWeeks.student, week: staleWeeks.week })
    .from(staleWeeks)
    .where(eq(staleWeeks.academyId, academyId))
    .orderBy(staleWeeks.technique, staleWeeks.student, staleWeeks.week);
  if (marked.length >= newToThePlanner)
    await db.execute(sql`analyze (skip_locked) ${reps}, ${staleWeeks}, ${tallies}`);
  for (let i = 0; i < marked.length; i += groupsAtOnce)
    await refreshSome(db, academyId, marked.slice(i, i + groupsAtOnce));
}

/** The tallies of an academy in the weeks from `since` to `until` (the days they begin on, both counted), up to date. */
export async function talliesOf(
  db: Db,
  academyId: Id,
  { technique, since, until }: { technique?: Id | undefined; since?: string | undefined; until: string },
): Promise<WeekTally[]> {
  await refreshTallies(db, academyId);
  const { academyId: _, ...columns } = getTableColumns(tallies);
  return (await db
    .select(columns)
    .from(tallies)
    .where(
      and(
        eq(tallies.academyId, academyId),
        technique === undefined ? undefined : eq(tallies.technique, technique),
        since === undefined ? undefined : gte(tallies.week, since),
        lte(tallies.week, until),
      ),
    )) as WeekTally[];
}

/** The tallies as the facts alone say they should be: what `talliesOf` must agree with. */
export const talliesFromFacts = async (db: Db, academyId: Id): Promise<WeekTally[]> =>
  counted(db, academyId, await weekBeginsOf(db, academyId));

/** The weekday on which an academy begins its weeks. */
export async function weekBeginsOf(db: Db, academyId: Id): Promise<Weekday> {
  const [found] = await db
    .select({ weekBegins: academies.weekBegins })
    .from(academies)
    .where(eq(academies.academyId, academyId));
  return found?.weekBegins ?? 'monday';
}

/**
 * Starts an academy's weeks on another weekday, in a transaction: all its tallies are counted again, and its devices
 * ask again.
 */
export async function beginWeeksOn(db: Db, academyId: Id, weekBegins: Weekday): Promise<void> {
  await db.execute(turnOf(academyId));
  if ((await weekBeginsOf(db, academyId)) === weekBegins) return;
  await db.update(academies).set({ weekBegins }).where(eq(academies.academyId, academyId));
  await db.delete(tallies).where(eq(tallies.academyId, academyId));
  await markAllStale(db, academyId);
  await readingsChanged(db, academyId);
  await tellOfAll(db, academyId);
}
