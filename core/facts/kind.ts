import type { z } from 'zod';
import type { Breakdown, Id } from '../breakdown';
import type { CareNote } from '../care';
import type { Student } from '../people';
import type { Rep } from '../rep';
import type { Session } from '../session';

/** What every fact has: an id of the device that made it, when it was, and who says so. */
export interface Fact {
  id: string;
  at: string;
  observer: Id;
}

/** What things are called in an academy; the id itself if it is not known. */
export interface Names {
  technique(id: Id): string;
  coach(id: Id): string;
  edition(technique: Id, edition: number): Breakdown | undefined;
}

/** Everything by its id. */
export const idsOnly: Names = { technique: (id) => id, coach: (id) => id, edition: () => undefined };

/** How a kind of fact is shown to the person it is about, when they ask for a copy of their data: as a table. */
export interface Telling<F> {
  title: string;
  columns: readonly string[];
  /** One row; null if this fact says nothing about them. It never names anybody else. */
  row(fact: F, person: Id, names: Names): readonly unknown[] | null;
}

/** What the facts of an academy are checked against. */
export interface AcademyKnown {
  students: ReadonlyMap<Id, Student>;
  observers: ReadonlySet<Id>;
  /** Who is signed in where they come from; null where a whole file of several people's facts is read by a coach. */
  sender: { id: Id; decides: boolean } | null;
  /** The server's instant: who is of age is never taken from the clock of a device. */
  now: string;
  /** The sessions that reps name, as far as they are here: a session may come after its reps. */
  sessionOf: ReadonlyMap<string, Pick<Session, 'technique'>>;
  /** By technique and number of the edition. */
  editions: ReadonlyMap<Id, ReadonlyMap<number, Breakdown>>;
  /** The reps that other facts name, as far as they are here: a void, tag or look may come before its rep. */
  repOf: ReadonlyMap<string, Rep>;
  /** The care notes that others replace, as far as they are here. */
  noteOf: ReadonlyMap<string, CareNote>;
}

/**
 * One kind of fact, and all that has to be known of it to carry it from a device to another one: batches, answers, the
 * live stream, the outbox, the store, exports and the papers are made from this.
 */
export interface FactKind<Is extends string, Schema extends z.ZodType<Fact>> {
  /** Its name in an answer. */
  is: Is;
  /** Its name on a screen. */
  name: string;
  /** What it says, in one sentence, for docs/formats.md. */
  says: string;
  schema: Schema;
  /** Prepares raw input for the schema; it may remove fields that say nothing. */
  plain?(raw: unknown): unknown;
  /** Where it is stored: under its own session, or under the session of the rep that it names. */
  under: 'session' | 'rep';
  /** The people it names. A fact that names a rep is also about the people of that rep. */
  people(fact: z.infer<Schema>): readonly Id[];
  /** The same fact with another id in the place of a person's. */
  renamed(fact: z.infer<Schema>, from: Id, to: Id): z.infer<Schema>;
  /**
   * What is left of it when a person it is about is erased, still under their id; null if nothing is. Free words about them
   * go. Not defined: all of it stays.
   */
  erased?(fact: z.infer<Schema>, person: Id): z.infer<Schema> | null;
  /** How its person sees it. Not defined: they do not. */
  tells?: Telling<z.infer<Schema>>;
  /** The edition that it was made with, if any. */
  edition?(fact: z.infer<Schema>): { technique: Id; edition: number };
  /** It changes what its rep says: the rep's week is counted again. */
  recounts?: true;
  /** It decides something, and is for coaches: an assistant logs and sees. */
  decides?: true;
  /** It is checked against what is known at this moment, never against what was known a while ago. */
  strictly?: true;
  /** Why it cannot be of this academy ("field: reason"), or null where it can. Its observer is checked for all kinds. */
  faultOf(fact: z.infer<Schema>, known: AcademyKnown): string | null;
  /** The fact with its other instants moved by this many milliseconds, if it has more than `at`. */
  moved?(fact: z.infer<Schema>, ms: number): z.infer<Schema>;
}

export const factKind = <const Is extends string, Schema extends z.ZodType<Fact>>(
  kind: FactKind<Is, Schema>,
): FactKind<Is, Schema> => kind;

/** A reason that names unknown people; null if all are on the roster. */
export function stranger({ students }: AcademyKnown, ids: readonly (Id | null)[]): string | null {
  const unknown = ids.find((id) => id !== null && !students.has(id));
  return unknown === undefined ? null : `"${unknown}" is not on the roster`;
}

/** A fact with another id in the place of a person's, in these of its fields. */
export function renamedIn<F extends Fact>(fact: F, fields: readonly (keyof F)[], from: Id, to: Id): F {
  const named = fields.filter((field) => fact[field] === from);
  return { ...fact, ...Object.fromEntries(named.map((field) => [field, to])) };
}

/** What takes the place of words that a coach wrote about somebody who was erased. */
export const erasedWords = 'erased with the person';

/** `2026-11-28 18:30` in UTC. */
export const momentOf = ({ at }: Fact): string => at.slice(0, 16).replace('T', ' ');

/** Why somebody who only logs may not change what this one says: it is another one's; null where they may, or it is not here yet. */
export function othersOwn({ sender }: AcademyKnown, said: Fact | undefined): string | null {
  return sender && !sender.decides && said && said.observer !== sender.id
    ? `observer: it is of "${said.observer}": only they or a coach change it`
    : null;
}

/** The edition that a rep was logged against, where both are known. */
export const editionOf = ({ editions }: AcademyKnown, rep: Rep | undefined): Breakdown | undefined =>
  rep && editions.get(rep.technique)?.get(rep.edition);
