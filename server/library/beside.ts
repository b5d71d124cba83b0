import type { Beside, Id, RuleTag, Technique } from '@ulkret/core/breakdown';
import { tagsOf } from '@ulkret/core/care';
import { eq } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { techniques } from '../db/schema';
import { drillsOf } from './drills';
import { piecesOf } from './pieces';

/** What else an academy has that a critique asks about; a file may bring more of it. */
export async function besideOf(
  db: Db,
  academyId: Id,
  brought: {
    drills?: readonly { id: Id }[];
    pieces?: readonly { id: Id }[];
    techniques?: readonly Technique[];
  } = {},
): Promise<Required<Beside>> {
  const rows = await db
    .select({ technique: techniques.technique })
    .from(techniques)
    .where(eq(techniques.academyId, academyId));
  const tags = new Map<Id, readonly RuleTag[]>(
    [...rows.map(({ technique }) => technique), ...(brought.techniques ?? [])].map((one) => [
      one.id,
      tagsOf(one),
    ]),
  );
  const idsOf = (...lists: (readonly { id: Id }[])[]) => new Set(lists.flat().map(({ id }) => id));
  return {
    drills: idsOf(await drillsOf(db, academyId), brought.drills ?? []),
    pieces: idsOf(await piecesOf(db, academyId), brought.pieces ?? []),
    tagsOf: (id) => tags.get(id) ?? [],
  };
}
