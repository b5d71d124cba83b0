import type { PersonNote } from '@ulkret/contract';
import type { Id } from '@ulkret/core/breakdown';
import { and, desc, eq, inArray, sql } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { coaches, personNotes } from '../db/schema';

/** What is written down about a person for these eyes, the latest first. */
export const notesOn = (
  db: Db,
  academyId: Id,
  person: Id,
  eyes: readonly PersonNote['seenBy'][],
): Promise<PersonNote[]> =>
  db
    .select({
      id: personNotes.id,
      at: personNotes.at,
      by: personNotes.by,
      byName: sql<string>`coalesce(${coaches.name}, ${personNotes.by})`,
      words: personNotes.words,
      seenBy: personNotes.seenBy,
    })
    .from(personNotes)
    .leftJoin(coaches, and(eq(coaches.academyId, personNotes.academyId), eq(coaches.id, personNotes.by)))
    .where(
      and(
        eq(personNotes.academyId, academyId),
        eq(personNotes.person, person),
        inArray(personNotes.seenBy, [...eyes]),
      ),
    )
    .orderBy(desc(personNotes.at), personNotes.id);

/** Keeps a note, or changes one's own; false where another's, or one about somebody else, has that id. */
export async function saveNote(
  db: Db,
  academyId: Id,
  note: { id: string; person: Id; by: Id; at: string; words: string; seenBy: PersonNote['seenBy'] },
): Promise<boolean> {
  const kept = await db
    .insert(personNotes)
    .values({ academyId, ...note })
    .onConflictDoUpdate({
      target: [personNotes.academyId, personNotes.id],
      set: { words: note.words, seenBy: note.seenBy },
      setWhere: and(eq(personNotes.person, note.person), eq(personNotes.by, note.by)),
    })
    .returning({ id: personNotes.id });
  return kept.length > 0;
}

/** Deletes a note, any author's if `by` is null; false if there is none. */
export async function removeNote(
  db: Db,
  academyId: Id,
  { id, person, by }: { id: string; person: Id; by: Id | null },
): Promise<boolean> {
  const gone = await db
    .delete(personNotes)
    .where(
      and(
        eq(personNotes.academyId, academyId),
        eq(personNotes.id, id),
        eq(personNotes.person, person),
        by === null ? undefined : eq(personNotes.by, by),
      ),
    )
    .returning({ id: personNotes.id });
  return gone.length > 0;
}
