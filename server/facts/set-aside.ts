import type { SetAside } from '@ulkret/contract';
import type { Id } from '@ulkret/core/breakdown';
import { factLists, isUndone, kindOf, latestVoids } from '@ulkret/core/facts';
import { readStudent } from '@ulkret/core/people';
import { Session } from '@ulkret/core/session';
import { eq } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { sessions, students } from '../db/schema';
import { allRows, factsNaming } from './read';
import { readRow } from './rows';

/** The rows of facts that are no facts to any reader, but for reps that were taken back. */
async function* factsSetAside(db: Db, academyId: Id): AsyncGenerator<SetAside> {
  for (const list of factLists())
    for await (const rows of allRows(db, academyId, list)) {
      const odd = rows.flatMap((row) => {
        const read = readRow(list, row);
        const { academyId: _, ...stored } = row;
        return 'reason' in read
          ? [{ is: kindOf(list).is, id: String(row['id']), reason: read.reason, stored }]
          : [];
      });
      const reps = list === 'reps' ? odd.map(({ id }) => id) : [];
      const voids = latestVoids(await factsNaming(db, academyId, 'voids', reps));
      yield* odd.filter(({ id }) => !isUndone(voids.get(id)));
    }
}

/** All that is stored of an academy and cannot be read: what an earlier release took, or somebody has put in by hand. */
export async function* setAside(db: Db, academyId: Id): AsyncGenerator<SetAside> {
  yield* factsSetAside(db, academyId);
  for (const { id, session } of await db.select().from(sessions).where(eq(sessions.academyId, academyId))) {
    const { error } = Session.safeParse(session);
    const [issue] = error?.issues ?? [];
    if (issue)
      yield {
        is: 'session',
        id,
        reason: `${issue.path.join('.')}: ${issue.message}`,
        stored: { ...session },
      };
  }
  for (const { id, student } of await db.select().from(students).where(eq(students.academyId, academyId))) {
    const { faults } = readStudent(student);
    if (faults.length > 0) yield { is: 'student', id, reason: faults.join('; '), stored: { ...student } };
  }
}
