import type { Breakdown, Id, Technique } from '@ulkret/core/breakdown';
import type { Student, Units } from '@ulkret/core/people';
import type { Weekday } from '@ulkret/core/reading';
import { type FactList, factLists, type FactOf, type SomeFacts } from '@ulkret/core/facts';
import type { Session } from '@ulkret/core/session';
import type { Role } from '@ulkret/contract';
import { eq, sql } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { anyCoach } from '../access/coaches';
import { addFacts } from '../intake/resolve-conflicts';
import { saveStudent } from '../people/roster';
import { academies, coaches } from '../db/schema';
import { saveSession } from '../class/sessions';
import { markAllStale } from '../signals/stale';
import { addTechnique } from '../library/techniques';
import { beginWeeksOn } from '../readings/tallies';

export interface NewCoach {
  id: Id;
  name: string;
  email: string;
  passwordHash: string;
  role: Role;
}

/** A whole academy, as it is written to an empty store. */
export interface WholeAcademy {
  academy: { id: Id; name: string; zone: string };
  coaches: readonly NewCoach[];
  students: readonly Student[];
  techniques: readonly { technique: Technique; editions: readonly Breakdown[] }[];
  sessions: readonly Session[];
  facts: SomeFacts;
}

const firstCoachLock = 7_165_539;

/** Makes the first academy with its head coach; false, and nothing made, where there is a coach already. */
export const addFirstAcademy = (
  db: Db,
  academy: { academyId: Id; name: string; zone: string },
  coach: NewCoach,
  starter: WholeAcademy['techniques'],
): Promise<boolean> =>
  db.transaction(async (tx) => {
    await tx.execute(sql`select pg_advisory_xact_lock(${firstCoachLock})`);
    if (await anyCoach(tx)) return false;
    await tx.insert(academies).values(academy);
    await tx.insert(coaches).values({ ...coach, academyId: academy.academyId });
    for (const technique of starter) await addTechnique(tx, academy.academyId, technique);
    return true;
  });

const perStatement = 2000;
const parts = <T>(list: readonly T[]): T[][] =>
  Array.from({ length: Math.ceil(list.length / perStatement) }, (_, i) =>
    list.slice(i * perStatement, (i + 1) * perStatement),
  );

async function addAll<K extends FactList>(db: Db, academyId: Id, list: K, facts: SomeFacts): Promise<void> {
  for (const part of parts(facts[list] ?? [])) await addFacts(db, academyId, list, part as FactOf<K>[], null);
}

/** Writes a whole academy, or nothing of it. */
export const loadAcademy = (db: Db, whole: WholeAcademy, demo: boolean): Promise<void> =>
  db.transaction(async (tx) => {
    const academyId = whole.academy.id;
    await tx
      .insert(academies)
      .values({ academyId, name: whole.academy.name, zone: whole.academy.zone, demo });
    await tx.insert(coaches).values(whole.coaches.map((coach) => ({ ...coach, academyId })));
    for (const technique of whole.techniques) await addTechnique(tx, academyId, technique);
    for (const student of whole.students) await saveStudent(tx, academyId, student);
    for (const session of whole.sessions) await saveSession(tx, academyId, session);
    for (const list of factLists()) await addAll(tx, academyId, list, whole.facts);
    await markAllStale(tx, academyId);
  });

/** Changes an academy's settings, in one transaction. */
export async function saveAcademy(
  db: Db,
  academyId: Id,
  {
    weekBegins,
    ...set
  }: { units?: Units | undefined; zone?: string | undefined; weekBegins?: Weekday | undefined },
): Promise<void> {
  await db.transaction(async (tx) => {
    if (weekBegins !== undefined) await beginWeeksOn(tx, academyId, weekBegins);
    if (Object.keys(set).length > 0)
      await tx.update(academies).set(set).where(eq(academies.academyId, academyId));
  });
}
