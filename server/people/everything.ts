import { type Everything, notesSeenBy } from '@ulkret/contract';
import type { Id } from '@ulkret/core/breakdown';
import { type Fact, factLists, type FactsByList, idsOnly, kindOf, noFacts } from '@ulkret/core/facts';
import { and, eq, or } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { cardLinks, coaches } from '../db/schema';
import { factsAbout } from '../facts/about';
import { sessionsWith } from '../class/sessions';
import { notesOn } from './notes';
import { person } from './roster';

/** The facts that a person sees: those that say something about them. */
function toldTo(person: Id, about: FactsByList): FactsByList {
  const told = noFacts();
  for (const list of factLists()) {
    const { tells } = kindOf(list);
    if (tells)
      (told[list] as Fact[]).push(...about[list].filter((fact) => tells.row(fact, person, idsOnly) !== null));
  }
  return told;
}

/** Everything stored about a person; null for an unknown id. */
export async function everythingOf(db: Db, academyId: Id, id: Id): Promise<Everything | null> {
  const student = await person(db, academyId, id);
  if (!student) return null;
  const facts = toldTo(id, (await factsAbout(db, academyId, id)).facts);
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
    format: 'ulkret.person/2',
    student,
    sessions,
    facts,
    notes: notes.map(({ id: _, ...note }) => note),
    links,
    accounts,
  };
}
