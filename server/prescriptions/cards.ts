import { randomUUID } from 'node:crypto';
import type { cardLinkDays } from '@ulkret/contract';
import { type CardLink, mayAsk, type StudentsCard } from '@ulkret/contract';
import type { Id } from '@ulkret/core/breakdown';
import { cardOf, type EditionOf } from '@ulkret/core/prescription';
import type { Student } from '@ulkret/core/people';
import { later } from '@ulkret/core/rep';
import { and, eq, gt, isNull, lte, sql } from 'drizzle-orm';
import { handedOut, hashSecret, newSecret, readSecret } from '../access/secrets';
import type { Db } from '../db/connect';
import { academies, cardLinks, coaches } from '../db/schema';
import { technique } from '../library/techniques';
import { notesOn } from '../people/notes';
import { person } from '../people/roster';
import { drillsOf } from '../library/drills';
import { followed } from './lifecycles';

const dayMs = 86_400_000;
const told = {
  id: cardLinks.id,
  madeBy: sql<string>`coalesce(${coaches.name}, ${cardLinks.madeBy})`,
  madeAt: cardLinks.madeAt,
  expiresAt: cardLinks.expiresAt,
  openedAt: cardLinks.openedAt,
};
const ofStudent = (academyId: Id, student: Id) =>
  and(eq(cardLinks.academyId, academyId), eq(cardLinks.studentId, student));

/** The links that open a student's card at an instant, the latest first. */
export const cardLinksOf = (db: Db, academyId: Id, student: Id, now: string): Promise<CardLink[]> =>
  db
    .select(told)
    .from(cardLinks)
    .leftJoin(coaches, and(eq(coaches.academyId, cardLinks.academyId), eq(coaches.id, cardLinks.madeBy)))
    .where(and(ofStudent(academyId, student), gt(cardLinks.expiresAt, now)))
    .orderBy(sql`${cardLinks.madeAt} desc`, cardLinks.id);

/** Makes a link, and tells its secret, which nothing keeps; null where its maker may not any more. What has expired of the student's is forgotten on the way. */
export async function makeCardLink(
  db: Db,
  academyId: Id,
  of: { student: Id; by: { id: Id; name: string }; days: (typeof cardLinkDays)[number]; now: string },
): Promise<(CardLink & { secret: string }) | null> {
  const { student, by, days, now } = of;
  const secret = newSecret();
  const link = { id: randomUUID(), madeAt: now, expiresAt: later(now, days * dayMs) };
  const made = await db.transaction(async (tx) => {
    // Whose doors are being closed makes no new ones.
    const [maker] = await tx
      .select({ role: coaches.role })
      .from(coaches)
      .where(and(eq(coaches.academyId, academyId), eq(coaches.id, by.id), isNull(coaches.closedAt)))
      .for('share');
    if (!maker || !mayAsk(maker.role, 'coach')) return false;
    await tx.delete(cardLinks).where(and(ofStudent(academyId, student), lte(cardLinks.expiresAt, now)));
    await tx
      .insert(cardLinks)
      .values({ academyId, studentId: student, secretHash: hashSecret(secret), madeBy: by.id, ...link });
    return true;
  });
  if (!made) return null;
  return { ...link, madeBy: by.name, openedAt: null, secret: handedOut(academyId, secret) };
}

export async function revokeCardLink(db: Db, academyId: Id, student: Id, id: string): Promise<void> {
  await db.delete(cardLinks).where(and(ofStudent(academyId, student), eq(cardLinks.id, id)));
}

/** The editions that lives were agreed to on. */
export async function editionsAgreedOn(
  db: Db,
  academyId: Id,
  lives: readonly { technique: Id }[],
): Promise<EditionOf> {
  const ids = [...new Set(lives.map((life) => life.technique))];
  const found = new Map(
    await Promise.all(ids.map(async (id) => [id, await technique(db, academyId, id)] as const)),
  );
  return (life) => {
    const whole = found.get(life.technique);
    const breakdown = whole?.editions.find(({ edition }) => edition === life.edition);
    return whole && breakdown ? { technique: whole.technique, breakdown } : null;
  };
}

/** The card that a link opens at an instant; null where it opens none, any more or at all. */
export async function openCard(
  db: Db,
  given: string,
  now: string,
): Promise<(StudentsCard & { expiresAt: string }) | null> {
  const secret = readSecret(given);
  if (!secret) return null;
  const { academyId, secretHash } = secret;
  const [link] = await db
    .update(cardLinks)
    .set({ openedAt: now })
    .where(
      and(
        eq(cardLinks.academyId, academyId),
        eq(cardLinks.secretHash, secretHash),
        gt(cardLinks.expiresAt, now),
      ),
    )
    .returning({ student: cardLinks.studentId, expiresAt: cardLinks.expiresAt });
  const student = link && (await person(db, academyId, link.student));
  if (!student) return null;
  return { ...(await cardAt(db, academyId, student, now)), expiresAt: link.expiresAt };
}

async function cardAt(db: Db, academyId: Id, student: Student, now: string): Promise<StudentsCard> {
  const [found, drills, words, [academy]] = await Promise.all([
    followed(db, academyId, { student: student.id }, now),
    drillsOf(db, academyId),
    notesOn(db, academyId, student.id, ['them too']),
    db.select({ name: academies.name }).from(academies).where(eq(academies.academyId, academyId)),
  ]);
  const lives = found.flatMap(({ lives: { all } }) => all);
  const card = cardOf(student, lives, await editionsAgreedOn(db, academyId, lives), drills);
  return {
    ...card,
    academy: academy!.name,
    words: words.map(({ at, byName, words: said }) => ({ at, byName, words: said })),
  };
}

/** The card of a student at an instant; null where nobody on the roster has that id. */
export async function ownCard(db: Db, academyId: Id, id: Id, now: string) {
  const student = await person(db, academyId, id);
  return student && cardAt(db, academyId, student, now);
}
