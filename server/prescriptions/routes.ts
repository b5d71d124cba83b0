import { endpoints } from '@ulkret/contract';
import { prescriptionsCsv } from '@ulkret/core/formats';
import { together, type Worked } from '@ulkret/core/prescription';
import type { Router } from 'express';
import type { Db } from '../db/connect';
import { answer, Refused } from '../http';
import { drillsOf, saveDrill } from './drills';
import { followed } from './lives';

/** Outcomes by a name, each taken together; what has no name is left out. */
function tellsBy<T extends { worked: Worked }>(list: readonly T[], nameOf: (one: T) => string | null) {
  const by = new Map<string, Worked[]>();
  for (const one of list) {
    const name = nameOf(one);
    if (name) by.set(name, [...(by.get(name) ?? []), one.worked]);
  }
  return Object.fromEntries([...by].map(([name, worked]) => [name, together(worked)]));
}

export function prescriptionRoutes(router: Router, db: Db): void {
  answer(router, db, endpoints.prescriptions, async ({ query }, { coach: { academyId } }) => {
    const asOf = new Date().toISOString();
    const found = await followed(db, academyId, query, asOf);
    const prescriptions = found.flatMap(({ lives, worked }) =>
      lives.all.map((life, i) => ({ life, worked: worked[i]! })),
    );
    return {
      asOf,
      prescriptions,
      declined: found.flatMap(({ student, technique, lives }) =>
        [...lives.declined].map(([checkpoint, why]) => ({ student, technique, checkpoint, ...why })),
      ),
      tells: {
        drill: tellsBy(prescriptions, ({ life }) => life.terms.drill),
        cue: tellsBy(prescriptions, ({ life }) => life.terms.cue),
        coach: tellsBy(prescriptions, ({ life }) => life.by),
      },
    };
  });

  answer(router, db, endpoints.exportPrescriptions, async ({ query }, { coach: { academyId }, response }) => {
    response.attachment('prescriptions.csv');
    const found = await followed(db, academyId, query, new Date().toISOString());
    return prescriptionsCsv(
      found.flatMap(({ lives, worked }) => lives.all.map((life, i) => ({ life, worked: worked[i]! }))),
    );
  });

  answer(router, db, endpoints.drills, async (_, { coach: { academyId } }) => ({
    drills: await drillsOf(db, academyId),
  }));

  answer(router, db, endpoints.saveDrill, async ({ params, body }, { coach: { academyId } }) => {
    if (params.id !== body.id)
      throw new Refused(
        400,
        'The address and the drill have different ids.',
        'Send the drill under its own id; nothing was changed.',
      );
    return saveDrill(db, academyId, body);
  });
}
