import { placeOf } from '@ulkret/core/breakdown';
import type { Id } from '@ulkret/core/breakdown';
import { isMinor } from '@ulkret/core/people';
import { causeFault, faultOf, type Rep, standing } from '@ulkret/core/rep';
import { type FactKind, factKindNames, factKinds, type FactOf, type ItemAnswer } from '@ulkret/contract';
import type { z } from 'zod';
import type { Db } from './db/connect';
import { addFacts, factsById, tagsOfReps } from './db/facts';
import { markStale } from './db/stale';
import { type Known, knownOf } from './known';
import { tellOfFacts } from './live/tell';

type Verdict = Omit<ItemAnswer, 'id' | 'is'>;

/** One item of a batch on its way in: either readable or refused already. */
interface Item<K extends FactKind> {
  id: string;
  fact: FactOf<K> | null;
  verdict: Verdict | null;
}

const refused = (reason: string): Verdict => ({ answer: 'refused', reason });

/** The id that an item is answered under, as the device wrote it where it can be read. */
const idOf = (raw: unknown): string => String((raw as { id?: unknown } | null)?.id ?? '');

function read<K extends FactKind>(kind: K, raw: unknown): Item<K> {
  const parsed = (factKinds[kind].schema as unknown as z.ZodType<FactOf<K>>).safeParse(raw);
  if (parsed.success) {
    const fact = { ...parsed.data, at: new Date(parsed.data.at).toISOString() };
    return { id: fact.id, fact, verdict: null };
  }
  const [issue] = parsed.error.issues;
  return {
    id: idOf(raw),
    fact: null,
    verdict: refused(`${issue?.path.join('.') || 'item'}: ${issue?.message}`),
  };
}

const sortedKeys = (_: string, value: unknown): unknown =>
  value && typeof value === 'object' && !Array.isArray(value)
    ? Object.fromEntries(Object.entries(value).sort(([x], [y]) => (x < y ? -1 : 1)))
    : value;
const same = (a: object, b: object): boolean =>
  JSON.stringify(a, sortedKeys) === JSON.stringify(b, sortedKeys);

/** What the facts of a batch are checked against. */
interface Against extends Known {
  /** The reps that other facts name, as far as they are here: a void, tag or look may come before its rep. */
  repOf: ReadonlyMap<string, Rep>;
}

const editionOf = ({ editions }: Against, rep: Rep | undefined) =>
  rep && editions.get(rep.technique)?.get(rep.edition);

const unknownStudent = ({ students }: Against, ids: readonly (Id | null)[]): string | null => {
  const stranger = ids.find((id) => id !== null && !students.has(id));
  return stranger === undefined ? null : `nobody on the roster is "${stranger}"`;
};

/** Why a fact of each kind cannot be of this academy, or null where it can. */
const faults: { [K in FactKind]: (fact: FactOf<K>, known: Against) => string | null } = {
  reps(rep, known) {
    const edition = editionOf(known, rep);
    if (!edition) return `technique: the library has no edition ${rep.edition} of "${rep.technique}"`;
    const stranger = unknownStudent(known, [rep.student, rep.partner]);
    if (stranger) return `student: ${stranger}`;
    const fault = faultOf(edition, rep);
    return fault && `${fault.field}: ${fault.reason}`;
  },
  voids: () => null,
  tags(tag, known) {
    const rep = known.repOf.get(tag.rep);
    // A tag may arrive before its rep; then its cause is looked at when the reps are read.
    if (rep && rep.outcome !== 'stopped') return 'rep: only a rep that stopped has a cause';
    const edition = editionOf(known, rep);
    return edition && tag.cause !== null ? causeFault(edition, tag.cause) : null;
  },
  looks(look, known) {
    const rep = known.repOf.get(look.rep);
    if (rep?.observer === look.observer) return 'observer: a second look is somebody else’s';
    const edition = editionOf(known, rep);
    return edition && look.stop !== null && placeOf(edition, look.stop) < 0
      ? `stop: edition ${edition.edition} of ${edition.technique} has no checkpoint "${look.stop}"`
      : null;
  },
  notes(note, known) {
    const stranger = unknownStudent(known, [note.person]);
    return stranger && `person: ${stranger}`;
  },
  overrides(override, known) {
    const stranger = unknownStudent(known, [override.student, override.partner]);
    if (stranger) return `student: ${stranger}`;
    const minor = [override.student, override.partner].find(
      (id) => id !== null && isMinor(known.students.get(id)!, override.at),
    );
    return minor ? `student: "${minor}" is a minor, and what is refused for a minor stays refused` : null;
  },
  changes({ set }, known) {
    const named =
      set.is === 'pairs'
        ? set.pairs.flat()
        : set.is === 'span'
          ? set.pair
          : set.is === 'words'
            ? [set.about]
            : [];
    const stranger = unknownStudent(known, named);
    return stranger && `pairs: ${stranger}`;
  },
};

/** Every form in which the facts of these ids may rightly come again. */
async function formsOf<K extends FactKind>(db: Db, academyId: Id, kind: K, ids: string[]) {
  const stored = await factsById(db, academyId, kind, ids);
  if (kind !== 'reps' || stored.length === 0) return stored;
  // A file that was exported carries the cause that a later tag gave: the same rep all the same.
  const reps = stored as unknown as Rep[];
  const tagged = standing({ reps, voids: [], tags: await tagsOfReps(db, academyId, ids) });
  return [...stored, ...(tagged as unknown as typeof stored)];
}

/** Adds what stands, and tells new from known from contradicted. An id belongs to the first fact that came with it. */
async function settle<K extends FactKind>(
  db: Db,
  academyId: Id,
  kind: K,
  items: Item<K>[],
): Promise<FactOf<K>[]> {
  const open = items.filter(
    (item): item is Item<K> & { fact: FactOf<K> } => item.fact !== null && item.verdict === null,
  );
  if (open.length === 0) return [];
  const added = await addFacts(
    db,
    academyId,
    kind,
    open.map(({ fact }) => fact),
  );
  const first = new Map<string, FactOf<K>>();
  for (const { id, fact } of open) if (added.has(id) && !first.has(id)) first.set(id, fact);
  const others = open.filter(({ id, fact }) => first.get(id) !== fact);
  const stored = new Map<string, FactOf<K>[]>();
  for (const fact of await formsOf(db, academyId, kind, [...new Set(others.map(({ id }) => id))]))
    stored.set(fact.id, [...(stored.get(fact.id) ?? []), fact]);
  for (const item of open) {
    if (first.get(item.id) === item.fact) item.verdict = { answer: 'accepted' };
    else
      item.verdict = stored.get(item.id)?.some((fact) => same(fact, item.fact))
        ? { answer: 'known' }
        : refused(
            'another fact already has this id, and facts are never edited: void that one and send a new one',
          );
  }
  return [...first.values()];
}

type Items = { [K in FactKind]: Item<K>[] };
type Facts = { [K in FactKind]: FactOf<K>[] };

/**
 * Takes a batch of facts into an academy. Each item is accepted, already known, or refused with a reason; a bad item
 * never costs another, and sending the same batch again changes nothing.
 */
export async function ingest(
  db: Db,
  academyId: Id,
  batch: Partial<Record<FactKind, readonly unknown[]>>,
): Promise<ItemAnswer[]> {
  const each = <T>(of: (kind: FactKind) => T) =>
    Object.fromEntries(factKindNames.map((kind) => [kind, of(kind)])) as Record<FactKind, T>;
  const items = each((kind) => (batch[kind] ?? []).map((raw) => read(kind, raw))) as Items;

  return db.transaction(async (tx) => {
    const techniques = [...new Set(items.reps.flatMap(({ fact }) => fact?.technique ?? []))];
    const repOf = new Map<string, Rep>();
    // Who is a minor is never taken from what was known a while ago.
    let fresh = items.overrides.length > 0;
    let known: Against = { ...(await knownOf(tx, academyId, techniques, fresh)), repOf };

    const faultIn = <K extends FactKind>(kind: K, fact: FactOf<K>): string | null =>
      known.observers.has(fact.observer)
        ? faults[kind](fact, known)
        : `observer: no coach of this academy is "${fact.observer}"`;
    const take = async <K extends FactKind>(kind: K): Promise<FactOf<K>[]> => {
      for (const item of items[kind]) {
        if (!item.fact) continue;
        let fault = faultIn(kind, item.fact);
        if (fault && !fresh) {
          // Nothing is refused by what was known a while ago.
          fresh = true;
          known = { ...(await knownOf(tx, academyId, techniques, true)), repOf };
          fault = faultIn(kind, item.fact);
        }
        if (fault) item.verdict = refused(fault);
      }
      return settle(tx, academyId, kind, items[kind]);
    };
    const accepted = each(() => []) as Facts;
    accepted.reps = await take('reps');
    const namedIn = [items.voids, items.tags, items.looks].flatMap((list) =>
      list.flatMap(({ fact }) => fact?.rep ?? []),
    );
    for (const rep of await factsById(tx, academyId, 'reps', namedIn)) repOf.set(rep.id, rep);
    techniques.push(...[...repOf.values()].map(({ technique }) => technique));
    known = { ...(await knownOf(tx, academyId, techniques)), repOf };
    accepted.voids = await take('voids');
    accepted.tags = await take('tags');
    accepted.looks = await take('looks');
    accepted.notes = await take('notes');
    accepted.overrides = await take('overrides');
    accepted.changes = await take('changes');

    const changed = [...accepted.voids, ...accepted.tags].flatMap(({ rep }) => repOf.get(rep) ?? []);
    await markStale(tx, academyId, [...accepted.reps, ...changed]);
    await tellOfFacts(tx, academyId, accepted, (rep) => repOf.get(rep)?.session ?? null);
    return factKindNames.flatMap((kind) =>
      items[kind].map(({ id, verdict }): ItemAnswer => ({ id, is: factKinds[kind].is, ...verdict! })),
    );
  });
}
