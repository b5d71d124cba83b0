import { type endpoints, evidenceAtOnce, type OutputOf } from '@ulkret/contract';
import type { Breakdown, Id } from '@ulkret/core/breakdown';
import { standing } from '@ulkret/core/facts';
import {
  type Agreement,
  agreementOf,
  asked,
  type ChoicesReading,
  choicesOf,
  evidenceAt,
  type EditionsByNumber,
  type Slice,
} from '@ulkret/core/reading';
import type { AnswerTried } from '@ulkret/core/prescription';
import { and, eq, gte, isNotNull, sql } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { reps } from '../db/schema';
import { factsOf, looksAt, notVoided, repsThatFollow } from '../facts/read';
import { editionsOf } from '../library/techniques';
import { roster } from '../people/roster';
import { weekBeginsOf } from './tallies';
import { type Period, windowOf } from './window';

// Readings that need each rep of a technique, and not its tallies alone.

/** The editions of a technique and the latest of them; null where the library has none. */
async function latestOf(
  db: Db,
  academyId: Id,
  technique: Id,
): Promise<{ editions: EditionsByNumber; breakdown: Breakdown } | null> {
  const editions = (await editionsOf(db, academyId, [technique])).get(technique)!;
  const breakdown = editions.get(Math.max(...editions.keys()));
  return breakdown ? { editions, breakdown } : null;
}

/** Which reps are asked about: of everybody, or of one student. */
export interface WhichReps extends Period {
  technique: Id;
  student?: Id | undefined;
  slice: Slice;
}

/** The editions of a technique and the reps of it that are asked about; null where the library has no edition of it. */
async function repsAmong(db: Db, academyId: Id, { technique, student, slice, ...period }: WhichReps) {
  const latest = await latestOf(db, academyId, technique);
  if (!latest) return null;
  const { since, ...window } = windowOf(period, await weekBeginsOf(db, academyId));
  const weeks = { ...window, since: since ?? undefined };
  const masses = new Map((await roster(db, academyId)).map(({ id, massKg }) => [id, massKg]));
  const within = asked(slice, weeks, (person) => masses.get(person) ?? null);
  const facts = await factsOf(db, academyId, {
    technique,
    ...(student && { student }),
    since: weeks.since,
  });
  return { ...latest, own: standing(facts).filter(within) };
}

/** Reps behind a number, and how many there are. */
export type Evidence = OutputOf<typeof endpoints.evidence>;

/** The reps that reached a checkpoint, latest first, but for those that have been told. */
export async function evidenceAmong(
  db: Db,
  academyId: Id,
  of: WhichReps,
  checkpoint: Id,
  skip: number,
): Promise<Evidence | null> {
  const among = await repsAmong(db, academyId, of);
  if (!among) return null;
  const all = evidenceAt(among.editions, among.own, checkpoint);
  return {
    reps: all.slice(skip, skip + evidenceAtOnce),
    reached: all.length,
    failed: all.filter(({ observation }) => observation === 'failed').length,
  };
}

/** What was chosen on a technique and what came of it; null where the library has no edition of it. */
export async function choicesAmong(db: Db, academyId: Id, of: WhichReps): Promise<ChoicesReading | null> {
  const among = await repsAmong(db, academyId, of);
  if (!among) return null;
  const { own, breakdown, editions } = among;
  const ids = own.map(({ id }) => id);
  const all = [...own, ...(await repsThatFollow(db, academyId, ids))];
  return choicesOf(breakdown, editions, all);
}

/** How well two coaches agree who saw the same reps; null where the library has no edition of the technique. */
export async function agreementOn(db: Db, academyId: Id, technique: Id): Promise<Agreement | null> {
  const [latest, facts, looks] = await Promise.all([
    latestOf(db, academyId, technique),
    factsOf(db, academyId, { technique }),
    looksAt(db, academyId, technique),
  ]);
  return latest && agreementOf(latest.breakdown, latest.editions, standing(facts), looks);
}

/** How often each answer to a defence of a technique was tried since a day, and worked; null for all. */
export async function answersTried(
  db: Db,
  academyId: Id,
  technique: Id,
  since: string | null,
): Promise<Map<Id, AnswerTried[]>> {
  const { rows } = await db.execute<{ defence: Id; answer: Id; tried: number; worked: number }>(sql`
    select one ->> 'defence' as defence, one ->> 'answer' as answer, count(*)::int as tried,
      (count(*) filter (where (one ->> 'worked')::boolean))::int as worked
    from ${reps}, jsonb_array_elements(${reps.met}) as one
    where ${and(
      eq(reps.academyId, academyId),
      eq(reps.technique, technique),
      isNotNull(reps.met),
      since === null ? undefined : gte(reps.at, since),
      notVoided,
    )} and one ->> 'answer' is not null
    group by 1, 2 order by 1, 2`);
  const answers = new Map<Id, AnswerTried[]>();
  for (const { defence, ...one } of rows) answers.set(defence, [...(answers.get(defence) ?? []), one]);
  return answers;
}
