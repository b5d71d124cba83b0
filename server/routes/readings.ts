import { prescribe } from '@ulkret/core/prescription';
import { plainReading } from '@ulkret/core/reading';
import { standing } from '@ulkret/core/rep';
import { endpoints } from '@ulkret/contract';
import type { Router } from 'express';
import type { Db } from '../db/connect';
import { factsOf } from '../db/facts';
import { mainSidesOf } from '../db/people';
import { editionsOf } from '../db/techniques';
import { answer, notFound } from '../http';

export function readingRoutes(router: Router, db: Db): void {
  answer(router, db, endpoints.readings, async ({ query }, { coach }) => {
    const { technique, student, rung, side, asOf = new Date().toISOString() } = query;
    const [allEditions, facts, mainSides] = await Promise.all([
      editionsOf(db, coach.academyId, [technique]),
      factsOf(db, coach.academyId, { technique }),
      mainSidesOf(db, coach.academyId),
    ]);
    const editions = allEditions.get(technique)!;
    const breakdown = editions.get(Math.max(...editions.keys()));
    if (!breakdown) throw notFound(`technique "${technique}" in the library`);
    if (student !== undefined && !mainSides.has(student))
      throw notFound(`student "${student}" on the roster`);
    const { students, ...rest } = plainReading({
      ...{ breakdown, editions, reps: standing(facts), asOf, rung, side, mainSides },
    });
    return {
      ...rest,
      students: students
        .filter((reading) => student === undefined || reading.student === student)
        .map((reading) => ({
          reading,
          prescription: prescribe(breakdown, reading, mainSides.get(reading.student!) ?? 'right'),
        })),
    };
  });
}
