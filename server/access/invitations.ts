import { randomUUID } from 'node:crypto';
import { type Access, type Invitation, invitationDays, type Role, roles } from '@ulkret/contract';
import type { Id } from '@ulkret/core/breakdown';
import { later } from '@ulkret/core/rep';
import { and, eq, gt, isNull, lte, max, ne, sql } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { academies, coaches, invitations, signIns } from '../db/schema';
import { writeDown } from '../trail/accesses';
import { closeDoors } from './doors';
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
  coach: invitations.coachId,
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

/**
 * Makes an invitation, and tells its secret, which nothing keeps. What has expired is forgotten on the way. With a `coach` it is
 * their way back in, under their own name, email and role, with a new password.
 */
export async function invite(
  db: Db,
  academyId: Id,
  of: { role: Role; name: string; student: Id | null; coach: Id | null; by: Id; now: string },
): Promise<(Invitation & { secret: string }) | 'nobody' | 'not any more'> {
  const { by } = of;
  return db.transaction(async (tx) => {
    // Whose doors are being closed makes no new ones: the row waits for that, and says so.
    const rowOf = (id: Id) => and(eq(coaches.academyId, academyId), eq(coaches.id, id));
    const [maker] = await tx
      .select({ role: coaches.role })
      .from(coaches)
      .where(and(rowOf(by), isNull(coaches.closedAt)))
      .for('share');
    if (maker?.role !== 'head') return 'not any more';
    const [back] =
      of.coach === null
        ? []
        : await tx
            .select({ role: coaches.role, name: coaches.name, student: coaches.studentId })
            .from(coaches)
            .where(rowOf(of.coach));
    if (of.coach !== null && !back) return 'nobody';
    return addInvitation(tx, academyId, { ...of, ...back });
  });
}

/** Adds an invitation; the caller has checked that it may be made. */
export async function addInvitation(
  tx: Db,
  academyId: Id,
  of: { role: Role; name: string; student: Id | null; coach: Id | null; by: Id; now: string },
): Promise<Invitation & { secret: string }> {
  const { role, name, student, coach, by, now } = of;
  const secret = newSecret();
  const made = { id: randomUUID(), role, name, expiresAt: later(now, invitationDays * dayMs) };
  await tx
    .delete(invitations)
    .where(and(eq(invitations.academyId, academyId), lte(invitations.expiresAt, now)));
  await tx.insert(invitations).values({
    academyId,
    ...made,
    studentId: student,
    coachId: coach,
    secretHash: hashSecret(secret),
    madeBy: by,
    madeAt: now,
  });
  return { ...made, student, coach, by, secret: handedOut(academyId, secret) };
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
    .select({ ...told, academy: academies.name, email: coaches.email })
    .from(invitations)
    .innerJoin(academies, eq(academies.academyId, invitations.academyId))
    .leftJoin(coaches, and(eq(coaches.academyId, invitations.academyId), eq(coaches.id, invitations.coachId)))
    .where(openBy(secret.academyId, secret.secretHash, now));
  return found ? { ...found, email: found.email?.endsWith(nowhere) ? null : found.email } : null;
}

/** The end of an email that is nobody's: of somebody whom an archive has brought, and who has none here. */
export const nowhere = '.invalid';

/**
 * An email that an archive has brought with somebody into another academy is theirs until it is used: who comes in with it takes it,
 * because who brings an archive proves nothing.
 */
const takeUnused = (tx: Db, academyId: Id, email: string) =>
  tx
    .update(coaches)
    .set({ email: sql`${coaches.id} || '@' || ${coaches.academyId} || ${nowhere}::text` })
    .where(
      and(
        ne(coaches.academyId, academyId),
        sql`lower(${coaches.email}) = lower(${email})`,
        eq(coaches.passwordHash, ''),
      ),
    );

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
        .returning({
          role: invitations.role,
          studentId: invitations.studentId,
          coachId: invitations.coachId,
        });
      if (!used) return null;
      const { coachId, ...as } = used;
      // Who somebody is, the head coach has said, and not who types an email: that is nobody's proof.
      if (coachId !== null) {
        const own = and(eq(coaches.academyId, academyId), eq(coaches.id, coachId));
        const [known] = await tx
          .update(coaches)
          .set({ passwordHash, closedAt: null })
          .where(own)
          .returning({ email: coaches.email });
        if (!known) return null;
        if (known.email.endsWith(nowhere)) {
          await takeUnused(tx, academyId, email);
          const taken = await tx
            .select({ id: coaches.id })
            .from(coaches)
            .where(sql`lower(${coaches.email}) = lower(${email})`);
          if (taken.length > 0) throw new EmailTaken();
          await tx.update(coaches).set({ email }).where(own);
        }
        await closeDoors(tx, academyId, coachId);
        return { academyId, id: coachId };
      }
      await takeUnused(tx, academyId, email);
      const id = `c-${randomUUID()}`;
      const made = await tx
        .insert(coaches)
        .values({ academyId, id, name, email, passwordHash, ...as })
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
  { role, open, by }: { role: Role; open: boolean; by: Id },
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
    const before = everybody.find((one) => one.id === id)!;
    if (!open || roles.indexOf(role) < roles.indexOf(before.role)) await closeDoors(tx, academyId, id);
    const as = (of: string, isOpen: boolean) => `${of}, ${isOpen ? 'open' : 'blocked'}`;
    const words = `${as(before.role, before.closedAt === null)} → ${as(role, open)}`;
    await writeDown(tx, { academyId, id: by }, 'changed who may sign in', id, words);
    return 'done';
  });
