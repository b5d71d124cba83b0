import type { Id } from '@ulkret/core/breakdown';
import { endpoints, type InputOf } from '@ulkret/contract';
import type { Router } from 'express';
import type { Db } from '../db/connect';
import { answer } from '../http/gate';
import { notFound } from '../refused';
import type { ReadingRequest, Readings } from '../readings/read';
import { windowOf } from '../readings/window';

const unknown = (technique: Id) => notFound(`technique "${technique}" in the library`);

/** What is to be read, as the address says it. */
const orderOf = ({
  technique,
  method = 'full',
  rung,
  side,
  partner,
  now = 'no',
  ...period
}: Omit<InputOf<typeof endpoints.rates>['query'], 'of' | 'student'>): ReadingRequest => ({
  technique,
  method,
  slice: { rung: rung ?? null, side: side ?? null, partner: partner ?? null },
  now: now === 'yes',
  ...period,
});

export function readingRoutes(router: Router, db: Db, readings: Readings): void {
  answer(router, db, endpoints.tallies, async ({ query }, { coach }) => {
    const window = windowOf(query, coach.weekBegins);
    return { ...window, cells: await readings.cells(coach.academyId, window, query.technique) };
  });

  answer(router, db, endpoints.rates, async ({ query }, { coach: { academyId } }) => {
    const { of = 'everybody', student, ...reads } = query;
    const rates = await readings.rates(academyId, orderOf(reads));
    if (!rates) throw unknown(reads.technique);
    const { students } = rates;
    const told =
      of === 'squad' ? [] : students.filter((one) => student === undefined || one.student === student);
    return { ...rates, students: told };
  });

  answer(router, db, endpoints.readings, async ({ query }, { coach: { academyId } }) => {
    const { student, prescriptions = 'yes', ...reads } = query;
    const { technique } = reads;
    const [made, decided] = await Promise.all([
      readings.read(academyId, orderOf(reads)),
      prescriptions === 'yes' ? readings.decide(academyId, technique) : null,
    ]);
    if (!made) throw unknown(technique);
    if (student !== undefined && !made.people.has(student))
      throw notFound(`student "${student}" on the roster`);
    const { students, ...rest } = made.reading;
    const decisions = decided && new Map(decided.decisions.map((one) => [one.student, one.prescription]));
    return {
      ...rest,
      settings: made.settings,
      students: students
        .filter((reading) => student === undefined || reading.student === student)
        .map((reading) => ({
          reading,
          // Students without reps in the usual weeks have no reading.
          prescription: decisions
            ? (decisions.get(reading.student!) ?? { kind: 'none' as const, reps: 0, onwards: null })
            : undefined,
        })),
    };
  });

  answer(router, db, endpoints.decisions, async ({ query: { technique } }, { coach: { academyId } }) => {
    const decided = await readings.decide(academyId, technique);
    if (!decided) throw unknown(technique);
    return decided;
  });

  answer(router, db, endpoints.evidence, async ({ query }, { coach: { academyId } }) => {
    const { rung = null, side = null, partner = null, checkpoint, skip = 0, ...rest } = query;
    const which = { ...rest, slice: { rung, side, partner } };
    const evidence = await readings.evidence(academyId, which, checkpoint, skip);
    if (!evidence) throw unknown(query.technique);
    return evidence;
  });

  answer(router, db, endpoints.choices, async ({ query }, { coach: { academyId } }) => {
    const { rung = null, side = null, partner = null, ...rest } = query;
    const choices = await readings.choices(academyId, { ...rest, slice: { rung, side, partner } });
    if (!choices) throw unknown(query.technique);
    return choices;
  });

  answer(router, db, endpoints.agreement, async ({ query: { technique } }, { coach: { academyId } }) => {
    const agreement = await readings.agreement(academyId, technique);
    if (!agreement) throw unknown(technique);
    return agreement;
  });
}
