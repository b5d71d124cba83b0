import { isDeepStrictEqual } from 'node:util';
import type { Id } from '@ulkret/core/breakdown';
import { placeOf } from '@ulkret/core/breakdown';
import type { Session } from '@ulkret/core/session';
import { endpoints } from '@ulkret/contract';
import type { Router } from 'express';
import { coachesOf } from '../access/coaches';
import { rulesOf } from '../care/rules';
import type { Db } from '../db/connect';
import { careNotesFrom, factsOf, sessionFacts } from '../facts/read';
import { asSeenBy, roster } from '../people/roster';
import { drillingSession, saveSession, sessionRows, sessionsSince } from '../class/sessions';
import { editionsOf, wholeLibrary } from '../library/techniques';
import { answer } from '../http/gate';
import { notFound, Refused } from '../refused';

/** How many of the last sessions a device keeps to hand. */
const kitSessions = 10;

/** Whatever the time zone, a day that lasts began since then. */
const dayMs = 36 * 3_600_000;

/** A session may start so much ahead of the server’s clock. */
const aheadMs = 2 * 86_400_000;

/** Why a session cannot be of this academy, or null where it can. */
async function strangeness(db: Db, academyId: Id, session: Session): Promise<string | null> {
  if (Date.parse(session.startedAt) > Date.now() + aheadMs)
    return `it starts at ${session.startedAt}, days ahead: fix this device’s clock`;
  const edition = (await editionsOf(db, academyId, [session.technique]))
    .get(session.technique)
    ?.get(session.edition);
  if (!edition) return `the library has no edition ${session.edition} of "${session.technique}"`;
  for (const end of [session.from, session.to])
    if (end !== null && placeOf(edition, end) < 0) return `edition has no checkpoint "${end}"`;
  const people = [...session.pairs.flat(), ...session.prescribed.map(({ student }) => student)];
  const students = new Set((await roster(db, academyId)).map(({ id }) => id));
  const stranger = people.find((id) => !students.has(id));
  return stranger === undefined ? null : `"${stranger}" is not on the roster`;
}

export function classRoutes(router: Router, db: Db): void {
  answer(router, db, endpoints.sessions, async (_, { coach }) => ({
    sessions: await sessionRows(db, coach.academyId),
  }));

  answer(router, db, endpoints.drillingSession, async ({ params }, { coach }) => {
    const session = await drillingSession(db, coach.academyId, params.id);
    if (!session) throw notFound('such class');
    return { session, facts: await sessionFacts(db, coach.academyId, params.id) };
  });

  answer(router, db, endpoints.dayReps, async (_, { coach }) => {
    const since = new Date(Date.now() - dayMs).toISOString();
    const sessions = await sessionsSince(db, coach.academyId, since);
    const { reps, voids } = await factsOf(db, coach.academyId, { sessions });
    return { reps: [...reps], voids: [...voids] };
  });

  answer(router, db, endpoints.saveSession, async ({ params, body }, { coach }) => {
    const strange =
      params.id === body.id
        ? await strangeness(db, coach.academyId, body)
        : 'its id differs from the address';
    if (strange)
      throw new Refused(
        400,
        `This class cannot be saved: ${strange}.`,
        'It stays on the device; set it up again.',
      );
    const kept = await saveSession(db, coach.academyId, body);
    if (!kept || !isDeepStrictEqual(kept, body))
      throw new Refused(400, 'This id belongs to another class.', 'It stays on the device; set it up again.');
    return kept;
  });

  answer(router, db, endpoints.kit, async (_, { coach }) => {
    const { academyId } = coach;
    const [library, students, rows, rules, notes, coaches] = await Promise.all([
      wholeLibrary(db, academyId),
      roster(db, academyId),
      sessionRows(db, academyId, kitSessions),
      rulesOf(db, academyId),
      careNotesFrom(db, academyId, new Date().toISOString().slice(0, 10)),
      coachesOf(db, academyId),
    ]);
    return {
      students: asSeenBy(coach.role, students),
      rules,
      notes,
      techniques: library.map(({ technique, editions }) => ({ technique, breakdown: editions.at(-1)! })),
      sessions: rows.map(({ session }) => session),
      coaches,
    };
  });
}
