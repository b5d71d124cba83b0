import type { Id } from '@ulkret/core/breakdown';
import { placeOf } from '@ulkret/core/breakdown';
import type { Session } from '@ulkret/core/rep';
import { endpoints } from '@ulkret/contract';
import type { Router } from 'express';
import type { Db } from '../db/connect';
import { factsOf } from '../db/facts';
import { roster } from '../db/people';
import { drillingSession, saveSession, sessionRows } from '../db/sessions';
import { editionsOf } from '../db/techniques';
import { answer, notFound, Refused } from '../http';

/** Why a session cannot be of this academy, or null where it can. */
async function strangeness(db: Db, academyId: Id, session: Session): Promise<string | null> {
  const edition = (await editionsOf(db, academyId, [session.technique]))
    .get(session.technique)
    ?.get(session.edition);
  if (!edition) return `the library has no edition ${session.edition} of "${session.technique}"`;
  for (const end of [session.from, session.to])
    if (end !== null && placeOf(edition, end) < 0) return `that edition has no checkpoint "${end}"`;
  const people = session.pairs.flat();
  if (new Set(people).size < people.length) return 'somebody is in two pairs';
  const students = new Set((await roster(db, academyId)).map(({ id }) => id));
  const stranger = people.find((id) => !students.has(id));
  return stranger === undefined ? null : `nobody on the roster is "${stranger}"`;
}

export function sessionRoutes(router: Router, db: Db): void {
  answer(router, db, endpoints.sessions, async (_, { coach }) => ({
    sessions: await sessionRows(db, coach.academyId),
  }));

  answer(router, db, endpoints.drillingSession, async ({ params }, { coach }) => {
    const session = await drillingSession(db, coach.academyId, params.id);
    if (!session) throw notFound('such session');
    const { reps, voids, tags } = await factsOf(db, coach.academyId, { session: params.id });
    return { session, facts: { reps: [...reps], voids: [...voids], tags: [...tags] } };
  });

  answer(router, db, endpoints.saveSession, async ({ params, body }, { coach }) => {
    const strange =
      params.id === body.id
        ? await strangeness(db, coach.academyId, body)
        : 'its id is not that of the address';
    if (strange)
      throw new Refused(
        400,
        `This session cannot be kept: ${strange}.`,
        'It stays on the device; set it up again.',
      );
    return saveSession(db, coach.academyId, body);
  });
}
