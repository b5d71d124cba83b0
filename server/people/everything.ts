import { type Everything, notesSeenBy } from '@ulkret/contract';
import type { Id } from '@ulkret/core/breakdown';
import { and, eq, or } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { cardLinks, coaches } from '../db/schema';
import { allFacts } from '../facts/read';
import { sessionsWith } from '../class/sessions';
import { notesOn } from './notes';
import { person } from './roster';

/** All that is kept about a person; null where nobody has that id. */
export async function everythingOf(db: Db, academyId: Id, id: Id): Promise<Everything | null> {
  const student = await person(db, academyId, id);
  if (!student) return null;
  const facts: Everything['facts'] = { reps: [], tags: [], notes: [], overrides: [], steps: [], words: [] };
  const theirs = new Set<string>();
  for await (const some of allFacts(db, academyId, 'reps'))
    for (const rep of some)
      if (rep.student === id || rep.partner === id) {
        facts.reps.push(rep);
        theirs.add(rep.id);
      }
  for await (const some of allFacts(db, academyId, 'tags'))
    facts.tags.push(...some.filter(({ rep }) => theirs.has(rep)));
  for await (const some of allFacts(db, academyId, 'notes'))
    facts.notes.push(...some.filter((note) => note.person === id));
  for await (const some of allFacts(db, academyId, 'overrides'))
    facts.overrides.push(...some.filter((one) => one.student === id || one.partner === id));
  for await (const some of allFacts(db, academyId, 'steps'))
    facts.steps.push(...some.filter((one) => one.student === id));
  for await (const some of allFacts(db, academyId, 'changes'))
    for (const { at, observer, set } of some)
      if (set.is === 'words' && set.about === id) facts.words.push({ at, by: observer, words: set.words });
  const [sessions, notes, links, accounts] = await Promise.all([
    sessionsWith(db, academyId, id),
    notesOn(db, academyId, id, notesSeenBy),
    db
      .select({ madeAt: cardLinks.madeAt, expiresAt: cardLinks.expiresAt, openedAt: cardLinks.openedAt })
      .from(cardLinks)
      .where(and(eq(cardLinks.academyId, academyId), eq(cardLinks.studentId, id))),
    db
      .select({ name: coaches.name, email: coaches.email })
      .from(coaches)
      .where(and(eq(coaches.academyId, academyId), or(eq(coaches.studentId, id)))),
  ]);
  return {
    format: 'ulkret.person/1',
    student,
    sessions,
    facts,
    notes: notes.map(({ id: _, ...note }) => note),
    links,
    accounts,
  };
}
