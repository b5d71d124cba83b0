import type { Id } from '@ulkret/core/breakdown';
import type { Role } from '@ulkret/contract';
import type { Units } from '@ulkret/core/people';
import type { Weekday } from '@ulkret/core/reading';
import { and, eq, gt, isNull, lt, or, sql } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { academies, coaches, signIns } from '../db/schema';

/** A coach with the academy that everything they ask is scoped to. */
export interface SignedInCoach {
  academyId: Id;
  academy: string;
  units: Units;
  zone: string;
  weekBegins: Weekday;
  id: Id;
  name: string;
  role: Role;
  /** The student whose card this sign-in sees. */
  studentId: Id | null;
}

const row = {
  academyId: coaches.academyId,
  academy: academies.name,
  units: academies.units,
  zone: academies.zone,
  weekBegins: academies.weekBegins,
  id: coaches.id,
  name: coaches.name,
  role: coaches.role,
  studentId: coaches.studentId,
};

/** The coach with an email, and the hash to check a password against. The one question that names no academy. */
export async function coachByEmail(db: Db, email: string) {
  const [found] = await db
    .select({ ...row, passwordHash: coaches.passwordHash })
    .from(coaches)
    .innerJoin(academies, eq(academies.academyId, coaches.academyId))
    .where(and(eq(sql`lower(${coaches.email})`, email.toLowerCase()), isNull(coaches.closedAt)));
  return found ?? null;
}

export const coachesOf = (db: Db, academyId: Id) =>
  db.select({ id: coaches.id, name: coaches.name }).from(coaches).where(eq(coaches.academyId, academyId));

export async function anyCoach(db: Db): Promise<boolean> {
  return (await db.select({ id: coaches.id }).from(coaches).limit(1)).length > 0;
}

export async function anyDemo(db: Db): Promise<boolean> {
  return (
    (await db.select({ id: academies.academyId }).from(academies).where(eq(academies.demo, true)).limit(1))
      .length > 0
  );
}

export async function openSignIn(
  db: Db,
  academyId: Id,
  coachId: Id,
  secretHash: string,
  { expiresAt, device }: { expiresAt: string; device: string },
): Promise<void> {
  await db
    .delete(signIns)
    .where(and(eq(signIns.academyId, academyId), or(lt(signIns.expiresAt, sql`now()`), idle)));
  await db.insert(signIns).values({ academyId, coachId, secretHash, expiresAt, device });
}

/** Sign-ins expire after this long without use. */
const idle = sql`${signIns.seenAt} < now() - interval '14 days'`;
/** That somebody was here is written down once in a while, and not at every tap. */
const seenLately = sql`${signIns.seenAt} > now() - interval '10 minutes'`;

/** What every request asks first, so it is put into words once for each pool. */
const prepared = (db: Db) =>
  db
    .select({ ...row, seenLately: sql<boolean>`${seenLately}` })
    .from(signIns)
    .innerJoin(coaches, and(eq(coaches.academyId, signIns.academyId), eq(coaches.id, signIns.coachId)))
    .innerJoin(academies, eq(academies.academyId, signIns.academyId))
    .where(
      and(
        eq(signIns.academyId, sql.placeholder('academyId')),
        eq(signIns.secretHash, sql.placeholder('secretHash')),
        gt(signIns.expiresAt, sql`now()`),
        sql`not ${idle}`,
        isNull(coaches.closedAt),
      ),
    )
    .prepare('coach_of_sign_in');
const preparedFor = new WeakMap<Db, ReturnType<typeof prepared>>();
function asked(db: Db) {
  const before = preparedFor.get(db);
  if (before) return before;
  const now = prepared(db);
  preparedFor.set(db, now);
  return now;
}

/** The coach of an open sign-in, or null where it has ended or they are gone. */
export async function coachOfSignIn(
  db: Db,
  academyId: Id,
  secretHash: string,
): Promise<SignedInCoach | null> {
  const [found] = await asked(db).execute({ academyId, secretHash });
  if (!found) return null;
  const { seenLately: seen, ...coach } = found;
  if (!seen)
    await db
      .update(signIns)
      .set({ seenAt: sql`now()` })
      .where(and(eq(signIns.academyId, academyId), eq(signIns.secretHash, secretHash)));
  return coach;
}

export async function closeSignIn(db: Db, academyId: Id, secretHash: string): Promise<void> {
  await db.delete(signIns).where(and(eq(signIns.academyId, academyId), eq(signIns.secretHash, secretHash)));
}

/** The hash of a coach's password. */
export async function passwordHashOf(db: Db, academyId: Id, id: Id): Promise<string | null> {
  const [found] = await db
    .select({ hash: coaches.passwordHash })
    .from(coaches)
    .where(and(eq(coaches.academyId, academyId), eq(coaches.id, id)));
  return found?.hash ?? null;
}

export async function savePassword(db: Db, academyId: Id, id: Id, passwordHash: string): Promise<void> {
  await db
    .update(coaches)
    .set({ passwordHash })
    .where(and(eq(coaches.academyId, academyId), eq(coaches.id, id)));
}
