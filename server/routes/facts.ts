import { type Breakdown, Id } from '@ulkret/core/breakdown';
import { type Directory, RepsReader, type RowsRead, textOf } from '@ulkret/core/formats';
import { endpoints, mayAsk, mostFaults, type SetAside } from '@ulkret/contract';
import type { Router } from 'express';
import { z } from 'zod';
import { coachesOf } from '../access/coaches';
import type { Db } from '../db/connect';
import { roster } from '../people/roster';
import { editionsOf, techniqueNames } from '../library/techniques';
import { answer } from '../http/gate';
import { takeRows, uuidOf } from '../intake/import';
import { setAside } from '../facts/set-aside';
import { takeTogether } from '../intake/together';
import { Refused } from '../refused';
import type { Transfers } from '../transfers/transfers';

/** Finds the one row that has the id, or else the one that has the name. */
function finder(rows: readonly { id: Id; name: string }[]): (text: string) => Id | null {
  const ids = new Set(rows.map(({ id }) => id));
  const plain = (text: string) => text.trim().toLocaleLowerCase();
  return (text) => {
    if (ids.has(text)) return text;
    const named = rows.filter(({ name }) => plain(name) === plain(text));
    return named.length === 1 ? named[0]!.id : null;
  };
}

async function directoryOf(db: Db, academyId: Id, importer: Id): Promise<Omit<Directory, 'zone' | 'now'>> {
  const names = await techniqueNames(db, academyId);
  const [editions, students, coaches] = await Promise.all([
    editionsOf(
      db,
      academyId,
      names.map(({ id }) => id),
    ),
    roster(db, academyId),
    coachesOf(db, academyId),
  ]);
  const techniqueId = finder(names);
  return {
    breakdown(technique, edition): Breakdown | null {
      const id = techniqueId(technique);
      const known = id === null ? undefined : editions.get(id);
      if (!known) return null;
      return known.get(edition ?? Math.max(...known.keys())) ?? null;
    },
    student: finder(students),
    observer: finder(coaches),
    importer,
    idFor: (text) => uuidOf(academyId, text),
  };
}

/** Who the observers of a file are, by the name that it gives them. */
function observersNamed(text: string | undefined): ReadonlyMap<string, Id> {
  if (text === undefined) return new Map();
  const read = Observers.safeParse(text);
  if (!read.success)
    throw new Refused(400, 'The observers cannot be read.', 'Send a JSON object of coach ids by name.');
  return new Map(Object.entries(read.data));
}

const Observers = z
  .string()
  .transform((text, context): unknown => {
    try {
      return JSON.parse(text);
    } catch {
      context.addIssue({ code: 'custom', message: 'it is not JSON' });
      return z.NEVER;
    }
  })
  .pipe(z.record(z.string(), Id));

/** A file of reps in parts of what was read. */
async function* readBy(reader: RepsReader, file: AsyncIterable<Uint8Array>): AsyncGenerator<RowsRead> {
  for await (const part of textOf(file)) yield reader.read(part, false);
  yield reader.read('', true);
}

export function factRoutes(router: Router, db: Db, transfers: Transfers): void {
  const take = takeTogether(db);

  answer(router, db, endpoints.sendReps, async ({ body }, { coach }) => ({
    items: await take(coach.academyId, body, {
      id: coach.id,
      decides: mayAsk(coach.role, 'coach'),
      forOthers: false,
    }),
  }));

  answer(router, db, endpoints.exportReps, ({ query }, { coach, response }) => {
    response.attachment('reps.csv');
    return transfers.out('reps', coach.academyId, query);
  });

  answer(router, db, endpoints.setAside, async (_, { coach }) => {
    const items: SetAside[] = [];
    let n = 0;
    for await (const one of setAside(db, coach.academyId)) if (n++ < mostFaults) items.push(one);
    return { items, n };
  });

  answer(router, db, endpoints.exportFacts, (_, { coach, response }) => {
    response.attachment('facts.json');
    return transfers.out('facts', coach.academyId);
  });

  answer(router, db, endpoints.importReps, async ({ query, body }, { coach }) => {
    const directory = await directoryOf(db, coach.academyId, coach.id);
    const named = observersNamed(query.observers);
    const reader = new RepsReader({
      ...directory,
      observer: (name) => directory.observer(named.get(name) ?? name),
      zone: query.zone ?? 'UTC',
      now: Date.now(),
    });
    return takeRows(db, coach.academyId, readBy(reader, body), coach.id, query.look === 'yes');
  });
}
