import { factsFormat } from '@ulkret/contract';
import type { Id } from '@ulkret/core/breakdown';
import { factLists, standing } from '@ulkret/core/facts';
import { writeRepsCsv } from '@ulkret/core/formats';
import type { Db } from '../db/connect';
import { allFacts, pagesOf, type RepFilter } from '../facts/read';
import { setAside } from '../facts/set-aside';

/** The reps that count as CSV, by their time, some at a time. */
export async function* repsCsv(db: Db, academyId: Id, which: RepFilter): AsyncGenerator<string> {
  let header = true;
  for await (const facts of pagesOf(db, academyId, which)) {
    yield writeRepsCsv(standing(facts), header);
    header = false;
  }
  if (header) yield writeRepsCsv([]);
}

/** The facts of an academy as one file, read and written some at a time. */
export async function* factsFile(db: Db, academyId: Id): AsyncGenerator<string> {
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
  // Stored rows that no reader understands are renamed and erased too: nobody who leaves leaves anything behind.
  yield ',\n"setAside":[';
  let first = true;
  for await (const one of setAside(db, academyId)) {
    yield (first ? '\n' : ',\n') + JSON.stringify(one);
    first = false;
  }
  yield ']}\n';
}
