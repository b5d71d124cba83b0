import type { Id } from '@ulkret/core/breakdown';
import { standing } from '@ulkret/core/facts';
import {
  comparedWeeks,
  type Lives,
  livesOf,
  type Step,
  type Worked,
  workedOf,
} from '@ulkret/core/prescription';
import type { EditionsByNumber } from '@ulkret/core/reading';
import { later, type Rep } from '@ulkret/core/rep';
import { and, eq, gte, inArray } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { reps } from '../db/schema';
import { factsWhere, stepsOf } from '../facts/read';
import { editionsOf } from '../library/techniques';

/** What is decided and drilled about one student on one technique, and whether each of it worked. */
export interface StudentLives {
  student: Id;
  technique: Id;
  lives: Lives;
  /** Of each prescription, in the order of `lives.all`. */
  worked: Worked[];
}

const weekMs = 7 * 86_400_000;
const keyOf = ({ student, technique }: { student: Id; technique: Id }): string => `${technique} ${student}`;

/** Everything that coaches have decided, of one technique or student or of all, with what the reps since say of it. */
export async function followed(
  db: Db,
  academyId: Id,
  which: { technique?: Id | undefined; student?: Id | undefined },
  now: string,
): Promise<StudentLives[]> {
  const steps = await stepsOf(db, academyId, which);
  if (steps.length === 0) return [];
  const techniques = [...new Set(steps.map(({ technique }) => technique))];
  const students = [...new Set(steps.map(({ student }) => student))];
  // What was seen some weeks before the first decision is what it is compared with.
  const first = steps.reduce((a, b) => (b.at < a ? b.at : a), steps[0]!.at);
  const facts = await factsWhere(
    db,
    academyId,
    and(
      eq(reps.academyId, academyId),
      inArray(reps.technique, techniques),
      inArray(reps.student, students),
      gte(reps.at, later(first, -comparedWeeks * weekMs)),
    ),
  );
  const editions = await editionsOf(db, academyId, techniques);
  const repsBy = new Map<string, Rep[]>();
  for (const rep of standing(facts)) {
    const known = repsBy.get(keyOf(rep));
    if (known) known.push(rep);
    else repsBy.set(keyOf(rep), [rep]);
  }
  const stepsBy = new Map<string, Step[]>();
  for (const step of steps) stepsBy.set(keyOf(step), [...(stepsBy.get(keyOf(step)) ?? []), step]);
  return [...stepsBy]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([key, own]) => {
      const { student, technique } = own[0]!;
      const of: EditionsByNumber = editions.get(technique)!;
      const seen = repsBy.get(key) ?? [];
      const lives = livesOf(of, own, seen, now);
      return { student, technique, lives, worked: lives.all.map((life) => workedOf(of, life, seen)) };
    });
}
