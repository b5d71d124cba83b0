import type { Device } from '@ulkret/contract';
import type { Id } from '@ulkret/core/breakdown';
import { and, desc, eq, gt, sql } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { signIns } from '../db/schema';
import { closeSignIns } from './doors';

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

/** Signs another device of a coach's out, or all others; the one that asks stays. */
export const signOutDevice = (
  db: Db,
  academyId: Id,
  coachId: Id,
  hereHash: string,
  id?: string,
): Promise<void> => db.transaction((tx) => closeSignIns(tx, academyId, coachId, hereHash, id));
