import { createHash, randomUUID } from 'node:crypto';
import type { Id } from '@ulkret/core/breakdown';
import { newStudent } from '@ulkret/core/people';
import { and, eq, inArray } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { cardLinks, coaches, erasures, invitations, personNotes, signIns, students } from '../db/schema';
import { eraseFromFacts } from '../facts/about';
import { tellOfAll } from '../signals/tell';
import { markAllStale } from '../signals/stale';
import { readingsChanged } from '../signals/version';
import { renamePerson } from './rename-person';
import { person } from './roster';

/** A digest by which somebody who was erased is known again, and by nothing else. */
export const markOf = (salt: string, id: Id): string =>
  createHash('sha256').update(`${salt}${id}`).digest('hex');

/**
 * Erases a person: roster entry, body, injuries, notes, links, sign-in, and all free words about them. A tombstone stays, which every later list obeys (`erased.ts`). Their reps stay under
 * an id that says nothing, so that the readings of others do not change. Null if nobody has that id.
 */
export const erase = (db: Db, academyId: Id, id: Id): Promise<{ as: Id; reps: number } | null> =>
  db.transaction(async (tx) => {
    const known = await person(tx, academyId, id);
    if (!known) return null;
    const as = `x-${randomUUID()}`;
    // Keep only what other students' readings need: main side and mass.
    const { mainSide, massKg } = known;
    const nobody = newStudent({ id: as, name: 'Erased', mainSide, massKg, archived: true });
    await tx.insert(students).values({ academyId, id: as, name: nobody.name, student: nobody });

    const { reps } = await eraseFromFacts(tx, academyId, id);
    await tx.delete(personNotes).where(and(eq(personNotes.academyId, academyId), eq(personNotes.person, id)));
    await tx.delete(cardLinks).where(and(eq(cardLinks.academyId, academyId), eq(cardLinks.studentId, id)));
    await tx
      .delete(invitations)
      .where(and(eq(invitations.academyId, academyId), eq(invitations.studentId, id)));
    const own = await tx
      .select({ id: coaches.id })
      .from(coaches)
      .where(and(eq(coaches.academyId, academyId), eq(coaches.studentId, id)));
    if (own.length > 0) {
      const accounts = own.map((one) => one.id);
      await tx
        .delete(signIns)
        .where(and(eq(signIns.academyId, academyId), inArray(signIns.coachId, accounts)));
      await tx.delete(coaches).where(and(eq(coaches.academyId, academyId), inArray(coaches.id, accounts)));
    }
    await renamePerson(tx, academyId, id, as, { erased: true });
    const salt = randomUUID();
    await tx.insert(erasures).values({ academyId, salt, mark: markOf(salt, id), reps });
    await markAllStale(tx, academyId, as);
    await readingsChanged(tx, academyId);
    await tellOfAll(tx, academyId);
    return { as, reps };
  });
