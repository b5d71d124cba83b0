import type { Id } from '@ulkret/core/breakdown';
import { and, eq, ne } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { cardLinks, invitations, passkeys, signIns } from '../db/schema';
import { tellOfClosedDoors } from '../signals/tell';

/**
 * Closes every door that somebody has or has made, in the transaction of what closes them: sign-ins but the one that asks, the
 * live streams of their devices, their passkeys, the invitations they made, and their links to cards. A device that stays signed in opens its
 * stream again.
 */
export async function closeDoors(tx: Db, academyId: Id, coachId: Id, but = ''): Promise<void> {
  await closeSignIns(tx, academyId, coachId, but);
  // Somebody else may have made one at an open screen: they are made again.
  await tx.delete(passkeys).where(and(eq(passkeys.academyId, academyId), eq(passkeys.coachId, coachId)));
  await tx
    .delete(invitations)
    .where(and(eq(invitations.academyId, academyId), eq(invitations.madeBy, coachId)));
  await tx.delete(cardLinks).where(and(eq(cardLinks.academyId, academyId), eq(cardLinks.madeBy, coachId)));
}

/** Signs somebody's devices out, all but the one that asks or one alone, with their streams. */
export async function closeSignIns(
  tx: Db,
  academyId: Id,
  coachId: Id,
  but: string,
  only?: string,
): Promise<void> {
  await tx
    .delete(signIns)
    .where(
      and(
        eq(signIns.academyId, academyId),
        eq(signIns.coachId, coachId),
        ne(signIns.secretHash, but),
        only === undefined ? undefined : eq(signIns.id, only),
      ),
    );
  await tellOfClosedDoors(tx, academyId, coachId);
}
