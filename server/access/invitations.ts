import { randomUUID } from 'node:crypto';
import { type Access, type Invitation, invitationDays, type Role } from '@ulkret/contract';
import type { Id } from '@ulkret/core/breakdown';
import { later } from '@ulkret/core/rep';
import { and, eq, gt, lte, max, sql } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { academies, coaches, invitations, signIns } from '../db/schema';
import { handedOut, hashSecret, newSecret, readSecret } from './secrets';

const dayMs = 86_400_000;

/** Everybody who may sign in, or might once, the latest seen included. */
export const accessOf = (db: Db, academyId: Id): Promise<Access[]> =>
  db
    .select({
      id: coaches.id,
      name: coaches.name,
      email: coaches.email,
      role: coaches.role,
      student: coaches.studentId,
      closedAt: coaches.closedAt,
      seenAt: max(signIns.seenAt),
    })
    .from(coaches)
    .leftJoin(signIns, and(eq(signIns.academyId, coaches.academyId), eq(signIns.coachId, coaches.id)))
    .where(eq(coaches.academyId, academyId))
    .groupBy(coaches.academyId, coaches.id)
    .orderBy(coaches.name, coaches.id);

const told = {
  id: invitations.id,
  role: invitations.role,
  name: invitations.name,
  student: invitations.studentId,
  by: invitations.madeBy,
  expiresAt: invitations.expiresAt,
};

/** The invitations that are open at an instant. */
export const invitationsOf = (db: Db, academyId: Id, now: string): Promise<Invitation[]> =>
  db
    .select(told)
    .from(invitations)
    .where(and(eq(invitations.academyId, academyId), gt(invitations.expiresAt, now)))
    .orderBy(invitations.madeAt, invitations.id);

/** Makes an invitation, and tells its secret, which nothing keeps. What has expired is forgotten on the way. */
export async function invite(
  db: Db,
  academyId: Id,
  of: { role: Role; name: string; student: Id | null; by: Id; now: string },
): Promise<Invitation & { secret: string }> {
  const { role, name, student, by, now } = of;
  const secret = newSecret();
  const made = { id: randomUUID(), role, name, expiresAt: later(now, invitationDays * dayMs) };
  await db
    .delete(invitations)
    .where(and(eq(invitations.academyId, academyId), lte(invitations.expiresAt, now)));
  await db.insert(invitations).values({
    academyId,
    ...made,
    studentId: student,
    secretHash: hashSecret(secret),
    madeBy: by,
    madeAt: now,
  });
  return { ...made, student, by, secret: handedOut(academyId, secret) };
}

export async function withdraw(db: Db, academyId: Id, id: string): Promise<void> {
  await db.delete(invitations).where(and(eq(invitations.academyId, academyId), eq(invitations.id, id)));
}

const openBy = (academyId: Id, secretHash: string, now: string) =>
  and(
    eq(invitations.academyId, academyId),
    eq(invitations.secretHash, secretHash),
    gt(invitations.expiresAt, now),
  );

/** What an invitation is for; null where its link opens none, any more or at all. */
export async function invitedBy(db: Db, given: string, now: string) {
  const secret = readSecret(given);
  if (!secret) return null;
  const [found] = await db
    .select({ ...told, academy: academies.name })
    .from(invitations)
    .innerJoin(academies, eq(academies.academyId, invitations.academyId))
    .where(openBy(secret.academyId, secret.secretHash, now));
  return found ?? null;
}

/** Lets somebody in by an invitation, which is used up by it; null where there is none, and 'email' where that email signs in already. */
export async function comeIn(
  db: Db,
  given: string,
  { name, email, passwordHash }: { name: string; email: string; passwordHash: string },
  now: string,
): Promise<{ academyId: Id; id: Id } | 'email' | null> {
  const secret = readSecret(given);
  if (!secret) return null;
  const { academyId, secretHash } = secret;
  try {
    return await db.transaction(async (tx) => {
      // Two who use it at the same moment: the row is one's.
      const [used] = await tx
        .delete(invitations)
        .where(openBy(academyId, secretHash, now))
        .returning({ role: invitations.role, studentId: invitations.studentId });
      if (!used) return null;
      // Who was here by name only, since the academy was brought in from an archive, is the same again.
      const [known] = await tx
        .update(coaches)
        .set({ passwordHash, closedAt: null, ...used })
        .where(
          and(
            eq(coaches.academyId, academyId),
            eq(coaches.passwordHash, ''),
            sql`lower(${coaches.email}) = lower(${email})`,
          ),
        )
        .returning({ id: coaches.id });
      if (known) return { academyId, id: known.id };
      const id = `c-${randomUUID()}`;
      const made = await tx
        .insert(coaches)
        .values({ academyId, id, name, email, passwordHash, ...used })
        .onConflictDoNothing()
        .returning({ id: coaches.id });
      // Nothing is used up by an email that is taken.
      if (made.length === 0) throw new EmailTaken();
      return { academyId, id };
    });
  } catch (error) {
    if (error instanceof EmailTaken) return 'email';
    throw error;
  }
}

class EmailTaken extends Error {}

/** Gives somebody another role, or closes or opens their access; false where nobody would be left to say who may. */
export const changeAccess = (
  db: Db,
  academyId: Id,
  id: Id,
  { role, open }: { role: Role; open: boolean },
  now: string,
): Promise<'done' | 'nobody' | 'last head'> =>
  db.transaction(async (tx) => {
    const everybody = await tx
      .select({ id: coaches.id, role: coaches.role, closedAt: coaches.closedAt })
      .from(coaches)
      .where(eq(coaches.academyId, academyId))
      .for('update');
    if (!everybody.some((one) => one.id === id)) return 'nobody';
    const heads = everybody.filter((one) =>
      one.id === id ? role === 'head' && open : one.role === 'head' && one.closedAt === null,
    );
    if (heads.length === 0) return 'last head';
    await tx
      .update(coaches)
      .set({ role, closedAt: open ? null : sql`coalesce(${coaches.closedAt}, ${now})` })
      .where(and(eq(coaches.academyId, academyId), eq(coaches.id, id)));
    if (!open) await tx.delete(signIns).where(and(eq(signIns.academyId, academyId), eq(signIns.coachId, id)));
    return 'done';
  });
