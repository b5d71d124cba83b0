import type { Breakdown, Id } from '@ulkret/core/breakdown';
import { prescribe } from '@ulkret/core/prescription';
import {
  agreementOf,
  asked,
  evidenceAt,
  type Editions,
  fullReading,
  modelVersion,
  plainReading,
  type Question,
} from '@ulkret/core/reading';
import { standing } from '@ulkret/core/facts';
import { endpoints } from '@ulkret/contract';
import type { Router } from 'express';
import type { Db } from '../db/connect';
import { factsOf, looksAt } from '../facts/read';
import { mainSidesOf, roster } from '../people/roster';
import { editionsOf } from '../library/techniques';
import { answer, notFound } from '../http';
import { academyPosterior, cellsOf, windowOf } from './posterior';

/** The editions of a technique and the latest of them; a refusal where the library has none. */
async function latestOf(
  db: Db,
  academyId: Id,
  technique: Id,
): Promise<{ editions: Editions; breakdown: Breakdown }> {
  const editions = (await editionsOf(db, academyId, [technique])).get(technique)!;
  const breakdown = editions.get(Math.max(...editions.keys()));
  if (!breakdown) throw notFound(`technique "${technique}" in the library`);
  return { editions, breakdown };
}

export function readingRoutes(router: Router, db: Db): void {
  answer(router, db, endpoints.tallies, async ({ query }, { coach }) => {
    const window = windowOf(query);
    return { ...window, cells: await cellsOf(db, coach.academyId, window, query.technique) };
  });

  answer(router, db, endpoints.readings, async ({ query }, { coach }) => {
    const { technique, student, method = 'full', rung = null, side = null, partner = null } = query;
    const window = windowOf(query);
    const [{ breakdown }, cells, mainSides] = await Promise.all([
      latestOf(db, coach.academyId, technique),
      cellsOf(db, coach.academyId, window, technique),
      mainSidesOf(db, coach.academyId),
    ]);
    if (student !== undefined && !mainSides.has(student))
      throw notFound(`student "${student}" on the roster`);
    const question: Question = { breakdown, cells, slice: { rung, side, partner }, mainSides };
    const { students, ...rest } =
      method === 'plain'
        ? plainReading(question)
        : fullReading(question, await academyPosterior(db, coach.academyId, query));
    return {
      ...rest,
      settings: { model: modelVersion, method, slice: question.slice, ...window },
      students: students
        .filter((reading) => student === undefined || reading.student === student)
        .map((reading) => ({
          reading,
          prescription: prescribe(breakdown, reading, mainSides.get(reading.student!) ?? 'right'),
        })),
    };
  });

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

  answer(router, db, endpoints.agreement, async ({ query: { technique } }, { coach }) => {
    const [{ editions, breakdown }, facts, looks] = await Promise.all([
      latestOf(db, coach.academyId, technique),
      factsOf(db, coach.academyId, { technique }),
      looksAt(db, coach.academyId, technique),
    ]);
    return agreementOf(breakdown, editions, standing(facts), looks);
  });
}
