import { endpoints } from '@ulkret/contract';
import type { Id } from '@ulkret/core/breakdown';
import { prescriptionsCsv, type WeekEntry, weeksIcs } from '@ulkret/core/formats';
import type { Student } from '@ulkret/core/people';
import {
  doseWords,
  type Life,
  together,
  type CardWork,
  type Worked,
  workOf,
} from '@ulkret/core/prescription';
import type { Router } from 'express';
import { coachesOf } from '../access/coaches';
import type { Limits } from '../access/limits';
import type { Db } from '../db/connect';
import { answer } from '../http/gate';
import { nobodyHere, notFound, Refused } from '../refused';
import { person } from '../people/roster';
import {
  cardLinksOf,
  editionsAgreedOn,
  makeCardLink,
  openCard,
  ownCard,
  revokeCardLink,
} from '../prescriptions/cards';
import { drillsOf, harmInDrill, saveDrill } from '../library/drills';
import { followed } from '../prescriptions/lifecycles';

/** Outcomes by a name, each taken together; what has no name is left out. */
function tellsBy<T extends { worked: Worked }>(list: readonly T[], nameOf: (one: T) => string | null) {
  const by = new Map<string, Worked[]>();
  for (const one of list) {
    const name = nameOf(one);
    if (name) by.set(name, [...(by.get(name) ?? []), one.worked]);
  }
  return Object.fromEntries([...by].map(([name, worked]) => [name, together(worked)]));
}

/** A correction as a calendar names it. */
function weekEntryOf(life: Life, work: CardWork | null): WeekEntry {
  if (!work) return { life, title: `${life.technique}: ${life.terms.checkpoint}`, how: '' };
  return {
    life,
    title: `${work.technique}: ${work.place} ${work.title}`,
    how: [
      work.cue && `Cue: ${work.cue}`,
      work.drill ? `${work.drill.title}: ${work.drill.setUp}` : 'Just this checkpoint.',
      `${doseWords(work, work.between)}.`,
    ]
      .filter(Boolean)
      .join('\n'),
  };
}

export function prescriptionRoutes(router: Router, db: Db, limits: Limits): void {
  correctionRoutes(router, db);
  cardRoutes(router, db, limits);
  drillRoutes(router, db);
}

async function known(db: Db, academyId: Id, student: Id): Promise<Student> {
  const found = await person(db, academyId, student);
  if (!found) throw notFound(`student "${student}" on the roster`);
  return found;
}

function correctionRoutes(router: Router, db: Db): void {
  answer(router, db, endpoints.prescriptions, async ({ query }, { coach: { academyId } }) => {
    const asOf = new Date().toISOString();
    const [found, coaches] = await Promise.all([
      followed(db, academyId, query, asOf),
      coachesOf(db, academyId),
    ]);
    const prescriptions = found.flatMap(({ lives, worked }) =>
      lives.all.map((life, i) => ({ life, worked: worked[i]! })),
    );
    return {
      asOf,
      prescriptions,
      declined: found.flatMap(({ student, technique, lives }) =>
        [...lives.declined].map(([checkpoint, why]) => ({ student, technique, checkpoint, ...why })),
      ),
      coaches,
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
    const whose = await known(db, academyId, student);
    const now = new Date().toISOString();
    const [found, drills] = await Promise.all([
      followed(db, academyId, { student }, now),
      drillsOf(db, academyId),
    ]);
    const lives = found.flatMap(({ lives: { all } }) => all);
    const editionOf = await editionsAgreedOn(db, academyId, lives);
    response.attachment('weeks.ics');
    return weeksIcs(
      whose.name,
      lives.map((life) => weekEntryOf(life, workOf(life, editionOf(life), drills, whose.mainSide))),
      now,
    );
  });
}

function cardRoutes(router: Router, db: Db, limits: Limits): void {
  answer(router, db, endpoints.cardLinks, async ({ params: { id } }, { coach: { academyId } }) => {
    await known(db, academyId, id);
    return { links: await cardLinksOf(db, academyId, id, new Date().toISOString()) };
  });

  answer(router, db, endpoints.makeCardLink, async ({ params: { id }, body: { days } }, { coach }) => {
    await known(db, coach.academyId, id);
    const of = { student: id, by: coach, days, now: new Date().toISOString() };
    const link = await makeCardLink(db, coach.academyId, of);
    if (!link) throw nobodyHere();
    return link;
  });

  answer(router, db, endpoints.revokeCardLink, async ({ params }, { coach: { academyId } }) => {
    await revokeCardLink(db, academyId, params.id, params.link);
    return { links: await cardLinksOf(db, academyId, params.id, new Date().toISOString()) };
  });

  answer(router, db, endpoints.ownCard, async (_, { coach: { academyId, studentId } }) => {
    const card = studentId && (await ownCard(db, academyId, studentId, new Date().toISOString()));
    if (!card) throw notFound('card of yours any more: ask your coach');
    return card;
  });

  answer(router, db, endpoints.openCard, ({ body: { secret } }, { request }) =>
    limits.link(request, async () => {
      const card = await openCard(db, secret, new Date().toISOString());
      if (!card)
        throw new Refused(404, 'This link has expired or was revoked.', 'Ask your coach for a new one.');
      return card;
    }),
  );
}

function drillRoutes(router: Router, db: Db): void {
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
    const harm = await harmInDrill(body);
    if (harm !== null)
      throw new Refused(
        422,
        `“${harm}” asks for force or speed, or passes over the tap.`,
        'Say what to move, slowly, and let go at the tap; nothing was changed.',
      );
    return saveDrill(db, academyId, body);
  });
}
