import type { Breakdown, Id } from '@ulkret/core/breakdown';
import { type Directory, readRepsCsv, writeRepsCsv } from '@ulkret/core/formats';
import { factLists, standing } from '@ulkret/core/facts';
import { endpoints, factsFormat } from '@ulkret/contract';
import type { Router } from 'express';
import { coachesOf } from '../access/coaches';
import type { Db } from '../db/connect';
import { allFacts, factsOf } from './read';
import { roster } from '../people/roster';
import { editionsOf, techniqueNames } from '../library/techniques';
import { answer } from '../http';
import { lookAt, takeRows, uuidOf } from './import';
import { takeEach } from './take';

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

/** The facts of an academy as one file, read and written some at a time. */
async function* factsFile(db: Db, academyId: Id): AsyncGenerator<string> {
  yield `{"format":${JSON.stringify(factsFormat)}`;
  for (const list of factLists()) {
    yield `,\n${JSON.stringify(list)}:[`;
    let first = true;
    for await (const facts of allFacts(db, academyId, list)) {
      yield (first ? '\n' : ',\n') + facts.map((fact) => JSON.stringify(fact)).join(',\n');
      first = false;
    }
    yield ']';
  }
  yield '}\n';
}

export function factRoutes(router: Router, db: Db): void {
  answer(router, db, endpoints.sendReps, async ({ body }, { coach }) => ({
    items: await takeEach(db, coach.academyId, body),
  }));

  answer(router, db, endpoints.exportReps, async ({ query }, { coach, response }) => {
    response.attachment('reps.csv');
    return writeRepsCsv(standing(await factsOf(db, coach.academyId, query)));
  });

  answer(router, db, endpoints.exportFacts, (_, { coach, response }) => {
    response.attachment('facts.json');
    return factsFile(db, coach.academyId);
  });

  answer(router, db, endpoints.importReps, async ({ query, body }, { coach }) => {
    const directory = await directoryOf(db, coach.academyId, coach.id);
    const read = readRepsCsv(body, { ...directory, zone: query.zone ?? 'UTC', now: Date.now() });
    return query.look === 'yes'
      ? lookAt(db, (tx) => takeRows(tx, coach.academyId, read))
      : takeRows(db, coach.academyId, read);
  });
}
