import { createHash } from 'node:crypto';
import type { Breakdown, Id } from '@ulkret/core/breakdown';
import { type Directory, readRepsCsv, writeRepsCsv } from '@ulkret/core/formats';
import { asked, evidenceAt } from '@ulkret/core/reading';
import { standing } from '@ulkret/core/rep';
import { endpoints, largestBatch } from '@ulkret/contract';
import type { Router } from 'express';
import { coachesOf } from '../db/coaches';
import type { Db } from '../db/connect';
import { factsOf } from '../db/facts';
import { roster } from '../db/people';
import { editionsOf, techniqueNames } from '../db/techniques';
import { answer, notFound } from '../http';
import { ingest } from '../ingest';
import { windowOf } from '../readings';

/** A UUID (RFC 9562, version 8) made of the SHA-256 of a text within an academy. */
function uuidOf(academyId: Id, text: string): string {
  const hex = createHash('sha256').update(`${academyId}\n${text}`).digest('hex');
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-8${hex.slice(13, 16)}-a${hex.slice(17, 20)}-${hex.slice(20, 32)}`;
}

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

async function directoryOf(db: Db, academyId: Id, importer: Id): Promise<Directory> {
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

export function repRoutes(router: Router, db: Db): void {
  answer(router, db, endpoints.sendReps, async ({ body }, { coach }) => ({
    items: await ingest(db, coach.academyId, body),
  }));

  answer(router, db, endpoints.evidence, async ({ query }, { coach }) => {
    const { technique, student, checkpoint, rung = null, side = null, partner = null } = query;
    const editions = (await editionsOf(db, coach.academyId, [technique])).get(technique)!;
    if (editions.size === 0) throw notFound(`technique "${technique}" in the library`);
    const { asOf, since } = windowOf(query);
    const weeks = { asOf, since: since ?? undefined };
    const masses = new Map((await roster(db, coach.academyId)).map(({ id, massKg }) => [id, massKg]));
    const within = asked({ rung, side, partner }, weeks, (person) => masses.get(person) ?? null);
    const facts = await factsOf(db, coach.academyId, { technique, student, since: weeks.since });
    const reps = standing(facts).filter(within);
    return { reps: evidenceAt(editions, reps, checkpoint) };
  });

  answer(router, db, endpoints.exportReps, async ({ query }, { coach, response }) => {
    response.attachment('reps.csv');
    return writeRepsCsv(standing(await factsOf(db, coach.academyId, query)));
  });

  answer(router, db, endpoints.importReps, async ({ body }, { coach }) => {
    const { rows, faults } = readRepsCsv(body, await directoryOf(db, coach.academyId, coach.id));
    const refused = [...faults];
    let accepted = 0;
    let known = 0;
    for (let i = 0; i < rows.length; i += largestBatch) {
      const part = rows.slice(i, i + largestBatch);
      const answers = await ingest(db, coach.academyId, {
        reps: part.map(({ rep }) => rep),
        voids: [],
        tags: [],
      });
      answers.forEach(({ answer: verdict, reason = '' }, n) => {
        if (verdict === 'accepted') accepted++;
        else if (verdict === 'known') known++;
        else refused.push({ line: part[n]!.line, column: 'id', reason });
      });
    }
    return { accepted, known, refused: refused.sort((a, b) => a.line - b.line) };
  });
}
