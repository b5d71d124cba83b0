import type { Id } from '@ulkret/core/breakdown';
import type { Units } from '@ulkret/core/people';
import { and, eq, gt, lt, sql } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { academies, coaches, signIns } from '../db/schema';

/** A coach with the academy that everything they ask is scoped to. */
export interface SignedInCoach {
  academyId: Id;
  academy: string;
  units: Units;
  zone: string;
  id: Id;
  name: string;
  role: 'head' | 'assistant';
}

const row = {
  academyId: coaches.academyId,
  academy: academies.name,
  units: academies.units,
  zone: academies.zone,
  id: coaches.id,
  name: coaches.name,
  role: coaches.role,
};

/** The coach with an email, and the hash to check a password against. The one question that names no academy. */
export async function coachByEmail(db: Db, email: string) {
  const [found] = await db
    .select({ ...row, passwordHash: coaches.passwordHash })
    .from(coaches)
    .innerJoin(academies, eq(academies.academyId, coaches.academyId))
    .where(eq(sql`lower(${coaches.email})`, email.toLowerCase()));
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
  expiresAt: string,
): Promise<void> {
  await db.delete(signIns).where(and(eq(signIns.academyId, academyId), lt(signIns.expiresAt, sql`now()`)));
  await db.insert(signIns).values({ academyId, coachId, secretHash, expiresAt });
}

export async function coachOfSignIn(
  db: Db,
  academyId: Id,
  secretHash: string,
): Promise<SignedInCoach | null> {
  const [found] = await db
    .select(row)
    .from(signIns)
    .innerJoin(coaches, and(eq(coaches.academyId, signIns.academyId), eq(coaches.id, signIns.coachId)))
    .innerJoin(academies, eq(academies.academyId, signIns.academyId))
    .where(
      and(
        eq(signIns.academyId, academyId),
        eq(signIns.secretHash, secretHash),
        gt(signIns.expiresAt, sql`now()`),
      ),
    );
  return found ?? null;
}

export async function closeSignIn(db: Db, academyId: Id, secretHash: string): Promise<void> {
  await db.delete(signIns).where(and(eq(signIns.academyId, academyId), eq(signIns.secretHash, secretHash)));
}

export async function saveAcademy(
  db: Db,
  academyId: Id,
  set: { units?: Units | undefined; zone?: string | undefined },
): Promise<void> {
  await db.update(academies).set(set).where(eq(academies.academyId, academyId));
}
