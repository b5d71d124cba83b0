import type { Device } from '@ulkret/contract';
import type { Id } from '@ulkret/core/breakdown';
import { and, desc, eq, gt, ne, sql } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { signIns } from '../db/schema';

const own = (academyId: Id, coachId: Id) =>
  and(eq(signIns.academyId, academyId), eq(signIns.coachId, coachId));

/** The devices on which a coach is signed in, that of `hereHash` among them; the latest seen first. */
export async function devicesOf(db: Db, academyId: Id, coachId: Id, hereHash: string): Promise<Device[]> {
  const rows = await db
    .select()
    .from(signIns)
    .where(and(own(academyId, coachId), gt(signIns.expiresAt, sql`now()`)))
    .orderBy(desc(signIns.seenAt));
  return rows.map(({ id, device, openedAt, seenAt, secretHash }) => ({
    id,
    device,
    openedAt,
    seenAt,
    here: secretHash === hereHash,
  }));
}

/** Signs another device of a coach's out; the one that asks stays. */
export async function signOutDevice(
  db: Db,
  academyId: Id,
  coachId: Id,
  hereHash: string,
  id?: string,
): Promise<void> {
  await db
    .delete(signIns)
    .where(
      and(
        own(academyId, coachId),
        ne(signIns.secretHash, hereHash),
        id === undefined ? undefined : eq(signIns.id, id),
      ),
    );
}
