import type { Id } from '@ulkret/core/breakdown';
import type { CareNote } from '@ulkret/core/care';
import {
  type AcademyKnown,
  eachList,
  type Fact,
  type FactList,
  factLists,
  type FactOf,
  type FactsByList,
  kindOf,
  noFacts,
  repNamedBy,
} from '@ulkret/core/facts';
import type { Rep } from '@ulkret/core/rep';
import type { ItemAnswer } from '@ulkret/contract';
import { techniquesOfSessions } from '../class/sessions';
import type { Db } from '../db/connect';
import { tellOfFacts } from '../signals/tell';
import { strangersAmong } from '../people/roster';
import { markStale } from '../signals/stale';
import { knownOf } from './known';
import { factsById } from '../facts/read';
import { type IncomingItem, refused, settle } from './resolve-conflicts';

/** Who sends facts: whether they may decide, and whether a file of theirs may hold what others have noted. */
export interface Sender {
  id: Id;
  decides: boolean;
  forOthers: boolean;
}

/** What is sent at once, by kind, as it was sent. */
export type Batch = { readonly [K in FactList]?: readonly unknown[] };

/** The id that an item is answered under, as the device wrote it where it can be read. */
function idOf(raw: unknown): string {
  const id = (raw as { id?: unknown } | null)?.id;
  return typeof id === 'string' ? id : '';
}

function read<K extends FactList>(list: K, raw: unknown): IncomingItem<K> {
  const { schema, plain } = kindOf(list);
  const parsed = schema.safeParse(plain ? plain(raw) : raw);
  if (parsed.success) {
    const fact = { ...parsed.data, at: new Date(parsed.data.at).toISOString() } as FactOf<K>;
    return { id: fact.id, fact, settled: null };
  }
  const [issue] = parsed.error.issues;
  return {
    id: idOf(raw),
    fact: null,
    settled: refused(`${issue?.path.join('.') || 'item'}: ${issue?.message}`),
  };
}

/** A fact may be this much ahead of the server’s clock, for dates of another time zone. */
const aheadMs = 2 * 86_400_000;

function faultIn(list: FactList, fact: Fact, known: AcademyKnown): string | null {
  if (Date.parse(fact.at) > Date.parse(known.now) + aheadMs)
    return `at: "${fact.at}" is in the future: fix this device’s clock and log it again`;
  const { sender } = known;
  if (!known.observers.has(fact.observer)) return `observer: no coach of this academy is "${fact.observer}"`;
  // Nobody notes in another one's name: what that one has noted waits on the device until they sign in again.
  if (sender && sender.id !== fact.observer)
    return `observer: "${sender.id}" cannot send the entries of "${fact.observer}"`;
  if (sender && !sender.decides && kindOf(list).decides)
    return `observer: ${kindOf(list).name.toLowerCase()} is for coaches, and "${sender.id}" is an assistant`;
  return kindOf(list).faultOf(fact, known);
}

/**
 * Takes a batch as `takeFacts` does; if it fails as a whole, item by item, so that only the item that cannot be stored
 * is refused. Trouble that is not the data's (the store is away) is still an error.
 */
export async function takeEach(db: Db, academyId: Id, batch: Batch, sender: Sender): Promise<ItemAnswer[]> {
  try {
    return await takeFacts(db, academyId, batch, sender);
  } catch (error) {
    if (!isOfTheData(error)) throw error;
    const answers: ItemAnswer[] = [];
    for (const list of factLists())
      for (const raw of batch[list] ?? [])
        try {
          answers.push(...(await takeFacts(db, academyId, { [list]: [raw] }, sender)));
        } catch (one) {
          if (!isOfTheData(one)) throw one;
          const reason = 'it cannot be stored: look for odd characters, numbers or dates in it';
          answers.push({ id: idOf(raw), is: kindOf(list).is, answer: 'refused', reason });
        }
    return answers;
  }
}

/** Did the store refuse the data themselves? SQLSTATE classes 22 (data) and 23 (integrity), and 54 (too much). */
export function isOfTheData(error: unknown): boolean {
  const { code, cause } = error as { code?: string; cause?: { code?: string } };
  return ['22', '23', '54'].includes((code ?? cause?.code ?? '').slice(0, 2));
}

/** Care notes, and those that they replace, by id. */
async function notesNamedBy(
  tx: Db,
  academyId: Id,
  notes: readonly CareNote[],
): Promise<ReadonlyMap<string, CareNote>> {
  const replaced = notes.flatMap(({ replaces }) => replaces ?? []);
  const before = await factsById(tx, academyId, 'notes', replaced);
  return new Map([...before, ...notes].map((note) => [note.id, note]));
}

/**
 * Takes a batch of facts into an academy. Each item is accepted, already known, or refused with a reason; a bad item
 * never costs another, and sending the same batch again changes nothing.
 */
export async function takeFacts(
  db: Db,
  academyId: Id,
  batch: Batch,
  { id: sentBy, decides, forOthers }: Sender,
): Promise<ItemAnswer[]> {
  const sender = forOthers ? null : { id: sentBy, decides };
  const items = eachList((list) => (batch[list] ?? []).map((raw) => read(list, raw)));
  const readable = (list: FactList) => items[list].flatMap(({ fact }): Fact[] => (fact ? [fact] : []));
  return db.transaction(async (tx) => {
    const repOf = new Map<string, Rep>();
    const techniques = new Set(
      factLists().flatMap((list) =>
        readable(list).flatMap((fact) => kindOf(list).edition?.(fact).technique ?? []),
      ),
    );
    let fresh = factLists().some((list) => kindOf(list).strictly && items[list].length > 0);
    // Who has been erased since the roster was last read is let in by no old list.
    const people = [
      ...new Set(factLists().flatMap((list) => readable(list).flatMap((fact) => kindOf(list).people(fact)))),
    ];
    fresh ||= (await strangersAmong(tx, academyId, people)).length > 0;
    const now = new Date().toISOString();
    const reps = readable('reps') as Rep[];
    const named = reps.flatMap(({ session }) => session ?? []);
    const sessionOf = await techniquesOfSessions(tx, academyId, [...new Set(named)]);
    const followed = new Set(reps.flatMap(({ follows }) => follows?.rep ?? []));
    const before = followed.size === 0 ? [] : await factsById(tx, academyId, 'reps', [...followed]);
    for (const rep of [...reps.filter(({ id }) => followed.has(id)), ...before]) {
      repOf.set(rep.id, rep);
      techniques.add(rep.technique);
    }
    const noteOf = await notesNamedBy(tx, academyId, readable('notes') as CareNote[]);
    let known: AcademyKnown = {
      ...(await knownOf(tx, academyId, [...techniques], fresh)),
      repOf,
      noteOf,
      sessionOf,
      now,
      sender,
    };

    const take = async (list: FactList): Promise<Fact[]> => {
      for (const item of items[list]) {
        if (!item.fact) continue;
        let fault = faultIn(list, item.fact, known);
        if (fault && !fresh) {
          // Nothing is refused by what was known a while ago.
          fresh = true;
          known = { ...known, ...(await knownOf(tx, academyId, [...techniques], true)) };
          fault = faultIn(list, item.fact, known);
        }
        if (fault) item.settled = refused(fault);
      }
      return settle(tx, academyId, list, items[list], sentBy);
    };
    const accepted = noFacts() as Record<FactList, Fact[]>;
    accepted.reps = await take('reps');
    // What is about a rep is checked against it, whether it came just now or long ago.
    const about = factLists().flatMap((list) =>
      readable(list).flatMap((fact) => repNamedBy(list, fact) ?? []),
    );
    for (const rep of await factsById(tx, academyId, 'reps', about)) {
      repOf.set(rep.id, rep);
      techniques.add(rep.technique);
    }
    known = { ...known, ...(await knownOf(tx, academyId, [...techniques])) };
    for (const list of factLists()) if (list !== 'reps') accepted[list] = await take(list);

    const recounted = factLists()
      .filter((list) => kindOf(list).recounts)
      .flatMap((list) => accepted[list].map((fact) => repNamedBy(list, fact)))
      .flatMap((rep) => (rep === null ? [] : (repOf.get(rep) ?? [])));
    await markStale(tx, academyId, [...(accepted as FactsByList).reps, ...recounted]);
    await tellOfFacts(tx, academyId, accepted as FactsByList, repOf);
    return factLists().flatMap((list) =>
      items[list].map(({ id, settled }): ItemAnswer => ({ id, is: kindOf(list).is, ...settled! })),
    );
  });
}
