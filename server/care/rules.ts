import type { HouseRules } from '@ulkret/contract';
import type { Id } from '@ulkret/core/breakdown';
import { neutralRules, RuleSet, rulesChanged } from '@ulkret/core/care';
import { and, desc, eq, sql } from 'drizzle-orm';
import { writeDown } from '../trail/accesses';
import type { Db } from '../db/connect';
import { coaches, houseRules } from '../db/schema';
import { tellOfAll } from '../signals/tell';

/** The rules of an academy: the latest that were set, or those that ship. */
export async function rulesOf(db: Db, academyId: Id): Promise<RuleSet> {
  const [latest] = await db
    .select({ rules: houseRules.rules })
    .from(houseRules)
    .where(eq(houseRules.academyId, academyId))
    .orderBy(desc(houseRules.revision))
    .limit(1);
  // What a set of an older release does not say is filled in.
  return latest ? RuleSet.parse(latest.rules) : neutralRules;
}

/** Changes listed; all are kept. */
const mostTold = 50;

/** The rules with who changed what, when, the latest first. */
export async function houseRulesOf(db: Db, academyId: Id): Promise<HouseRules> {
  const rows = await db
    .select({
      revision: houseRules.revision,
      rules: houseRules.rules,
      at: houseRules.at,
      by: sql<string>`coalesce(${coaches.name}, ${houseRules.by})`,
    })
    .from(houseRules)
    .leftJoin(coaches, and(eq(coaches.academyId, houseRules.academyId), eq(coaches.id, houseRules.by)))
    .where(eq(houseRules.academyId, academyId))
    .orderBy(desc(houseRules.revision))
    .limit(mostTold + 1);
  const sets = rows.map(({ rules }) => RuleSet.parse(rules));
  return {
    rules: sets[0] ?? neutralRules,
    revision: rows[0]?.revision ?? 0,
    history: rows.slice(0, mostTold).map(({ revision, by, at }, i) => ({
      revision,
      by,
      at,
      changes: rulesChanged(sets[i + 1] ?? neutralRules, sets[i]!),
    })),
  };
}

/** Replaces the rules; false if somebody else changed them since that revision. */
export const saveRules = (
  db: Db,
  academyId: Id,
  { rules, revision }: { rules: RuleSet; revision: number },
  by: Id,
): Promise<boolean> =>
  db.transaction(async (tx) => {
    const [before] = await tx
      .select({ revision: houseRules.revision, rules: houseRules.rules })
      .from(houseRules)
      .where(eq(houseRules.academyId, academyId))
      .orderBy(desc(houseRules.revision))
      .limit(1);
    if ((before?.revision ?? 0) !== revision) return false;
    const added = await tx
      .insert(houseRules)
      .values({ academyId, revision: revision + 1, rules, by, at: new Date().toISOString() })
      .onConflictDoNothing()
      .returning({ revision: houseRules.revision });
    if (added.length === 0) return false;
    const said = before ? RuleSet.parse(before.rules) : neutralRules;
    await writeDown(
      tx,
      { academyId, id: by },
      'changed the rules',
      null,
      rulesChanged(said, rules).join('; ').slice(0, 500),
    );
    await tellOfAll(tx, academyId);
    return true;
  });
