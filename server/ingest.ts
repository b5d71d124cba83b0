import { causeFault, CauseTag, faultOf, Rep, SecondLook, standing, Void } from '@ulkret/core/rep';
import { type Id, placeOf } from '@ulkret/core/breakdown';
import type { ItemAnswer } from '@ulkret/contract';
import type { z } from 'zod';
import { coachesOf } from './db/coaches';
import type { Db } from './db/connect';
import {
  addLooks,
  addReps,
  addTags,
  addVoids,
  looksById,
  repsById,
  tagsById,
  tagsOfReps,
  voidsById,
} from './db/facts';
import { roster } from './db/people';
import { markStale } from './db/stale';
import { editionsOf } from './db/techniques';

interface RawBatch {
  reps: readonly unknown[];
  voids: readonly unknown[];
  tags: readonly unknown[];
  looks?: readonly unknown[];
}

type Fact = { id: string; at: string };
type Verdict = Omit<ItemAnswer, 'id' | 'is'>;

/** One item of a batch on its way in: either readable or refused already. */
interface Item<T extends Fact> {
  id: string;
  fact: T | null;
  verdict: Verdict | null;
}

const refused = (reason: string): Verdict => ({ answer: 'refused', reason });

/** The id that an item is answered under, as the device wrote it where it can be read. */
const idOf = (raw: unknown): string => String((raw as { id?: unknown } | null)?.id ?? '');

function read<T extends Fact>(schema: z.ZodType<T>, raw: unknown): Item<T> {
  const parsed = schema.safeParse(raw);
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

const same = (a: object, b: object): boolean => {
  const sorted = (fact: object) => JSON.stringify(Object.entries(fact).sort(([x], [y]) => (x < y ? -1 : 1)));
  return sorted(a) === sorted(b);
};

/**
 * Adds what stands, and tells new from known from contradicted. An id belongs to the first fact that came with it.
 * `known` answers with every form in which the facts of these ids may rightly come again.
 */
async function settle<T extends Fact>(
  items: Item<T>[],
  add: (facts: T[]) => Promise<Set<string>>,
  known: (ids: string[]) => Promise<readonly T[]>,
): Promise<void> {
  const open = items.filter(
    (item): item is Item<T> & { fact: T } => item.fact !== null && item.verdict === null,
  );
  const added = await add(open.map(({ fact }) => fact));
  const first = new Map<string, T>();
  for (const { id, fact } of open) if (added.has(id) && !first.has(id)) first.set(id, fact);
  const others = open.filter(({ id, fact }) => first.get(id) !== fact);
  const stored = new Map<string, T[]>();
  for (const fact of await known([...new Set(others.map(({ id }) => id))]))
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
}

/**
 * Takes a batch of facts into an academy. Each item is accepted, already known, or refused with a reason; a bad item
 * never costs another, and sending the same batch again changes nothing.
 */
export async function ingest(db: Db, academyId: Id, batch: RawBatch): Promise<ItemAnswer[]> {
  const reps = batch.reps.map((raw) => read<Rep>(Rep, raw));
  const voids = batch.voids.map((raw) => read<Void>(Void, raw));
  const tags = batch.tags.map((raw) => read<CauseTag>(CauseTag, raw));
  const looks = (batch.looks ?? []).map((raw) => read<SecondLook>(SecondLook, raw));

  return db.transaction(async (tx) => {
    const techniques = [...new Set(reps.flatMap(({ fact }) => (fact ? [fact.technique] : [])))];
    const editions = await editionsOf(tx, academyId, techniques);
    const people = await roster(tx, academyId);
    const coaches = await coachesOf(tx, academyId);
    const students = new Set(people.map(({ id }) => id));
    const observers = new Set(coaches.map(({ id }) => id));
    const unknownObserver = (id: Id) =>
      observers.has(id) ? null : `observer: no coach of this academy is "${id}"`;

    for (const item of reps) {
      const { fact: rep } = item;
      if (!rep) continue;
      const edition = editions.get(rep.technique)?.get(rep.edition);
      const strangers = [rep.student, ...(rep.partner === null ? [] : [rep.partner])].filter(
        (id) => !students.has(id),
      );
      const fault = edition ? faultOf(edition, rep) : null;
      const reason =
        (!edition && `technique: the library has no edition ${rep.edition} of "${rep.technique}"`) ||
        (strangers.length > 0 && `student: nobody on the roster is "${strangers[0]}"`) ||
        unknownObserver(rep.observer) ||
        (fault && `${fault.field}: ${fault.reason}`);
      if (reason) item.verdict = refused(reason);
    }
    await settle(
      reps,
      (facts) => addReps(tx, academyId, facts),
      async (ids) => {
        const stored = await repsById(tx, academyId, ids);
        // A file that was exported carries the cause that a later tag gave: the same rep all the same.
        return [
          ...stored,
          ...standing({ reps: stored, voids: [], tags: await tagsOfReps(tx, academyId, ids) }),
        ];
      },
    );

    const pointedAt = [...tags, ...voids, ...looks].flatMap(({ fact }) => (fact ? [fact.rep] : []));
    const named = await repsById(tx, academyId, pointedAt);
    const missing = named.map(({ technique }) => technique).filter((id) => !editions.has(id));
    for (const [id, more] of await editionsOf(tx, academyId, [...new Set(missing)])) editions.set(id, more);
    const repOf = new Map(named.map((rep) => [rep.id, rep]));
    for (const item of tags) {
      const { fact: tag } = item;
      if (!tag) continue;
      const rep = repOf.get(tag.rep);
      const edition = rep && editions.get(rep.technique)?.get(rep.edition);
      // A tag may arrive before its rep; then its cause is looked at when the reps are read.
      const reason =
        unknownObserver(tag.observer) ||
        (rep && rep.outcome !== 'stopped' && 'rep: only a rep that stopped has a cause') ||
        (edition && tag.cause !== null && causeFault(edition, tag.cause));
      if (reason) item.verdict = refused(reason);
    }
    for (const item of voids) {
      const reason = item.fact && unknownObserver(item.fact.observer);
      if (reason) item.verdict = refused(reason);
    }
    for (const item of looks) {
      const { fact: look } = item;
      if (!look) continue;
      const rep = repOf.get(look.rep);
      const edition = rep && editions.get(rep.technique)?.get(rep.edition);
      const reason =
        unknownObserver(look.observer) ||
        (rep && rep.observer === look.observer && 'observer: a second look is somebody else’s') ||
        (edition &&
          look.stop !== null &&
          placeOf(edition, look.stop) < 0 &&
          `stop: edition ${edition.edition} of ${edition.technique} has no checkpoint "${look.stop}"`);
      if (reason) item.verdict = refused(reason);
    }
    await settle(
      voids,
      (facts) => addVoids(tx, academyId, facts),
      (ids) => voidsById(tx, academyId, ids),
    );
    await settle(
      tags,
      (facts) => addTags(tx, academyId, facts),
      (ids) => tagsById(tx, academyId, ids),
    );
    await settle(
      looks,
      (facts) => addLooks(tx, academyId, facts),
      (ids) => looksById(tx, academyId, ids),
    );
    const accepted = <T extends Fact>(items: Item<T>[]): T[] =>
      items.flatMap(({ fact, verdict }) => (fact && verdict?.answer === 'accepted' ? [fact] : []));
    const changed = [...accepted(voids), ...accepted(tags)].flatMap(({ rep }) => repOf.get(rep) ?? []);
    await markStale(tx, academyId, [...accepted(reps), ...changed]);
    const answers = (is: ItemAnswer['is'], items: Item<Fact>[]) =>
      items.map(({ id, verdict }): ItemAnswer => ({ id, is, ...verdict! }));
    return [
      ...answers('rep', reps),
      ...answers('void', voids),
      ...answers('tag', tags),
      ...answers('look', looks),
    ];
  });
}
