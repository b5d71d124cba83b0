import { endpoints } from '@ulkret/contract';
import { readFor } from '@ulkret/core/breakdown';
import type { Drill } from '@ulkret/core/drills';
import { prescriptionsCsv, type WeekEntry, weeksIcs } from '@ulkret/core/formats';
import { type Life, together, type Worked } from '@ulkret/core/prescription';
import type { Router } from 'express';
import type { Db } from '../db/connect';
import { answer, notFound, Refused } from '../http';
import { technique } from '../library/techniques';
import { roster } from '../people/roster';
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

/** A correction as a calendar names it, by the edition it was agreed to on. */
function weekEntryOf(
  life: Life,
  found: Awaited<ReturnType<typeof technique>>,
  drills: readonly Drill[],
): WeekEntry {
  const { checkpoint, cue, drill: id, rung, sets, reps, sides, first } = life.terms;
  const checkpoints = found?.editions.find(({ edition }) => edition === life.edition)?.checkpoints ?? [];
  const place = checkpoints.findIndex((one) => one.id === checkpoint);
  const point = place < 0 ? checkpoint : `${place + 1} ${readFor(checkpoints[place]!.title, first)}`;
  const drill = drills.find((one) => one.id === id);
  return {
    life,
    title: `${found?.technique.name ?? life.technique}: ${point}`,
    how: [
      cue && `Cue: ${readFor(cue, first)}`,
      `${drill ? `${drill.title}: ${drill.setUp}` : 'The point by itself.'}`,
      `${sets} × ${reps} ${sides === 'both' ? `each side, the ${first} first` : `on the ${sides} side`}, at rung ${rung}.`,
    ]
      .filter(Boolean)
      .join('\n'),
  };
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

  answer(router, db, endpoints.exportWeeks, async ({ query: { student } }, { coach, response }) => {
    const { academyId } = coach;
    const person = (await roster(db, academyId)).find(({ id }) => id === student);
    if (!person) throw notFound(`student "${student}" on the roster`);
    const now = new Date().toISOString();
    const [found, drills] = await Promise.all([
      followed(db, academyId, { student }, now),
      drillsOf(db, academyId),
    ]);
    const lives = found.flatMap(({ lives: { all } }) => all);
    const techniques = new Map(
      await Promise.all(
        [...new Set(lives.map((life) => life.technique))].map(
          async (id) => [id, await technique(db, academyId, id)] as const,
        ),
      ),
    );
    response.attachment('weeks.ics');
    return weeksIcs(
      person.name,
      lives.map((life) => weekEntryOf(life, techniques.get(life.technique) ?? null, drills)),
      now,
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
