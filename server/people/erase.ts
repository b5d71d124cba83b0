import { randomUUID } from 'node:crypto';
import type { Id } from '@ulkret/core/breakdown';
import { newStudent } from '@ulkret/core/people';
import { and, eq, inArray, or, sql } from 'drizzle-orm';
import type { Db } from '../db/connect';
import {
  cardLinks,
  careNotes,
  causeTags,
  changes,
  coaches,
  invitations,
  overrides,
  personNotes,
  reps,
  signIns,
  steps,
  students,
} from '../db/schema';
import { tellOfAll } from '../signals/tell';
import { markAllStale } from '../signals/stale';
import { readingsChanged } from '../signals/version';
import { renamePerson } from './rename-person';
import { person } from './roster';

/** What is said where somebody's own words stood. */
const gone = 'erased with the person';

/**
 * Erases a person: from the roster, their body, injuries, notes, links and sign-in, and all free words about them. What they
 * drilled stays under an id that says nothing, so that the others' readings are what they were. Null where nobody has that id.
 */
export const erase = (db: Db, academyId: Id, id: Id): Promise<{ as: Id; reps: number } | null> =>
  db.transaction(async (tx) => {
    const known = await person(tx, academyId, id);
    if (!known) return null;
    const as = `x-${randomUUID()}`;
    // Of a nobody no more is kept than the readings of others need: whom they drilled with was so heavy.
    const { mainSide, massKg } = known;
    const nobody = newStudent({ id: as, name: 'Erased', mainSide, massKg, archived: true });
    await tx.insert(students).values({ academyId, id: as, name: nobody.name, student: nobody });

    const took = and(eq(reps.academyId, academyId), or(eq(reps.student, id), eq(reps.partner, id)));
    const theirs = await tx.select({ id: reps.id }).from(reps).where(took);
    const ids = sql`any(${`{${theirs.map((rep) => rep.id).join()}}`}::uuid[])`;
    await tx
      .update(causeTags)
      .set({ words: null })
      .where(and(eq(causeTags.academyId, academyId), sql`${causeTags.rep} = ${ids}`));
    await tx.update(reps).set({ note: '' }).where(took);
    await tx
      .update(overrides)
      .set({ reason: gone })
      .where(
        and(eq(overrides.academyId, academyId), or(eq(overrides.student, id), eq(overrides.partner, id))),
      );
    const decided = await tx
      .select({ id: steps.id, does: steps.does })
      .from(steps)
      .where(and(eq(steps.academyId, academyId), eq(steps.student, id)));
    for (const { id: step, does } of decided)
      await tx
        .update(steps)
        .set({ does: 'reason' in does ? { ...does, reason: gone } : does })
        .where(and(eq(steps.academyId, academyId), eq(steps.id, step)));

    // What was said of them, and what their body needed, is nobody's business any more.
    await tx.delete(personNotes).where(and(eq(personNotes.academyId, academyId), eq(personNotes.person, id)));
    await tx.delete(careNotes).where(and(eq(careNotes.academyId, academyId), eq(careNotes.person, id)));
    await tx
      .delete(changes)
      .where(
        and(
          eq(changes.academyId, academyId),
          sql`${changes.set} ->> 'is' = 'words'`,
          sql`${changes.set} ->> 'about' = ${id}`,
        ),
      );
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
    await renamePerson(tx, academyId, id, as);
    await markAllStale(tx, academyId, as);
    await readingsChanged(tx, academyId);
    await tellOfAll(tx, academyId);
    return { as, reps: theirs.length };
  });
