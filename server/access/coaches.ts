import type { Id } from '@ulkret/core/breakdown';
import type { Role } from '@ulkret/contract';
import type { Units } from '@ulkret/core/people';
import type { Weekday } from '@ulkret/core/reading';
import { and, eq, gt, isNull, lt, or, sql } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { academies, coaches, signIns } from '../db/schema';
import { nobodyHere } from '../refused';
import { closeDoors } from './doors';

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
  /** Have they proved who they are within the last quarter of an hour? */
  proved?: boolean;
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

/** The person with an email, closed or not: the machine that keeps the data may let them back in. */
export async function coachToLetBack(db: Db, email: string) {
  const [found] = await db
    .select({
      academyId: coaches.academyId,
      id: coaches.id,
      name: coaches.name,
      role: coaches.role,
      student: coaches.studentId,
    })
    .from(coaches)
    .where(eq(sql`lower(${coaches.email})`, email.toLowerCase()));
  return found ?? null;
}

/** A coach as they ask; null where they may not any more. */
export async function coachById(
  db: Db,
  { academyId, id }: { academyId: Id; id: Id },
): Promise<SignedInCoach | null> {
  const [found] = await db
    .select(row)
    .from(coaches)
    .innerJoin(academies, eq(academies.academyId, coaches.academyId))
    .where(and(eq(coaches.academyId, academyId), eq(coaches.id, id), isNull(coaches.closedAt)));
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

/** Opens a sign-in; refused where its coach may not come in any more. */
export async function openSignIn(
  db: Db,
  academyId: Id,
  coachId: Id,
  secretHash: string,
  {
    expiresAt,
    device,
    checked,
  }: {
    expiresAt: string;
    device: string;
    /** The hash of the password that was checked. */
    checked?: string | undefined;
  },
): Promise<void> {
  await db
    .delete(signIns)
    .where(and(eq(signIns.academyId, academyId), or(lt(signIns.expiresAt, sql`now()`), idle)));
  await db.transaction(async (tx) => {
    // A password that was changed, or access that was closed, while it was checked opens nothing any more.
    const [still] = await tx
      .select({ passwordHash: coaches.passwordHash })
      .from(coaches)
      .where(and(eq(coaches.academyId, academyId), eq(coaches.id, coachId), isNull(coaches.closedAt)))
      .for('share');
    if (!still || (checked !== undefined && still.passwordHash !== checked)) throw nobodyHere();
    await tx.insert(signIns).values({ academyId, coachId, secretHash, expiresAt, device });
  });
}

/** Sign-ins expire after this long without use. */
const idle = sql`${signIns.seenAt} < now() - interval '14 days'`;
/** That somebody was here is written down once in a while, and not at every tap. */
const seenLately = sql`${signIns.seenAt} > now() - interval '10 minutes'`;

/** What every request asks first, so it is put into words once for each pool. */
const prepared = (db: Db) =>
  db
    .select({
      ...row,
      seenLately: sql<boolean>`${seenLately}`,
      proved: sql<boolean>`${signIns.provedAt} > now() - interval '15 minutes'`,
    })
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

/** Writes down that the owner of a sign-in has proved again who they are. */
export async function proveAgain(db: Db, academyId: Id, secretHash: string): Promise<void> {
  await db
    .update(signIns)
    .set({ provedAt: sql`now()` })
    .where(and(eq(signIns.academyId, academyId), eq(signIns.secretHash, secretHash)));
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

/** A new password closes every other door of its coach. */
export const savePassword = (
  db: Db,
  academyId: Id,
  id: Id,
  passwordHash: string,
  hereHash: string,
): Promise<void> =>
  db.transaction(async (tx) => {
    await tx
      .update(coaches)
      .set({ passwordHash })
      .where(and(eq(coaches.academyId, academyId), eq(coaches.id, id)));
    await closeDoors(tx, academyId, id, hereHash);
  });
