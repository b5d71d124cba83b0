import type { z } from 'zod';
import { type Rep, later } from '../rep';
import { notes } from './care-note';
import { tags } from './cause-tag';
import type { Fact, FactKind } from './kind';
import { overrides } from './override';
import { reps } from './rep';
import { looks } from './second-opinion';
import { changes } from './session-change';
import { steps } from './step';
import { voids } from './void';

/**
 * Every kind of fact, by the name of its list in a batch, in the order in which a batch is taken: facts that others
 * name come first. A new kind is a file next to this one, a line here, and a table.
 */
export const factKinds = { reps, voids, tags, looks, notes, overrides, changes, steps };

export type FactList = keyof typeof factKinds;
export type FactOf<K extends FactList> = z.infer<(typeof factKinds)[K]['schema']>;
/** Facts of every kind, by the name of their list. */
export type FactsByList = { [K in FactList]: FactOf<K>[] };
/** One fact with the list that it belongs in. */
export type Entry = { [K in FactList]: { is: K; fact: FactOf<K> } }[FactList];

/** A kind whatever it is of, for code that serves all alike. */
export type AnyKind = FactKind<string, z.ZodType<Fact>>;
export const kindOf = (list: FactList): AnyKind => factKinds[list] as unknown as AnyKind;

/** The names of all lists. */
export const factLists = (): FactList[] => Object.keys(factKinds) as FactList[];

/** Something for each list. */
export const eachList = <T>(of: (list: FactList) => T): Record<FactList, T> =>
  Object.fromEntries(factLists().map((list) => [list, of(list)])) as Record<FactList, T>;

export const noFacts = (): FactsByList => eachList(() => []) as unknown as FactsByList;

/** Entries sorted into the lists of a batch. */
export function factsIn(entries: readonly Entry[]): FactsByList {
  const facts = noFacts();
  for (const { is, fact } of entries) (facts[is] as Fact[] | undefined)?.push(fact);
  return facts;
}

/** The rep that a fact is about; null for a rep itself and for what is about a session. */
export const repNamedBy = (list: FactList, fact: Fact): string | null =>
  kindOf(list).under === 'rep' ? (fact as unknown as { rep: string }).rep : null;

/** The session that a fact is found under, given that of the rep that it may name; null where it is in none. */
export const sessionOf = (list: FactList, fact: Fact, repOf: ReadonlyMap<string, Rep>): string | null => {
  const rep = repNamedBy(list, fact);
  return rep === null
    ? (fact as unknown as { session: string | null }).session
    : (repOf.get(rep)?.session ?? null);
};

/** An entry whose instants are moved by this many milliseconds. */
export function moved<E extends Entry>(entry: E, ms: number): E {
  const at = { ...entry.fact, at: later(entry.fact.at, ms) } as Fact;
  return { ...entry, fact: kindOf(entry.is).moved?.(at, ms) ?? at } as E;
}
