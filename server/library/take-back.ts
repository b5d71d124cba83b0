import type { BroughtBreakdowns } from '@ulkret/contract';
import type { Id } from '@ulkret/core/breakdown';
import { and, eq, inArray, sql } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { breakdowns, drafts, drills, positions, reps, sessions, steps, techniques } from '../db/schema';
import { readingsChanged } from '../signals/version';
import { removePiece, techniquesWith } from './pieces';
import { technique } from './techniques';

/** Why an edition stays; null where nobody would miss it. */
async function missedBy(tx: Db, academyId: Id, technique: Id, edition: number): Promise<string | null> {
  const used = (table: typeof reps | typeof steps) =>
    and(eq(table.academyId, academyId), eq(table.technique, technique), eq(table.edition, edition));
  const [rep] = await tx.select({ id: reps.id }).from(reps).where(used(reps)).limit(1);
  if (rep) return 'it has been drilled';
  const [step] = await tx.select({ id: steps.id }).from(steps).where(used(steps)).limit(1);
  if (step) return 'a coach decided on it';
  const [session] = await tx
    .select({ id: sessions.id })
    .from(sessions)
    .where(
      and(
        eq(sessions.academyId, academyId),
        eq(sessions.techniqueId, technique),
        sql`(${sessions.session} ->> 'edition')::int = ${edition}`,
      ),
    )
    .limit(1);
  if (session) return 'a class uses it';
  const [draft] = await tx
    .select({ id: drafts.techniqueId })
    .from(drafts)
    .where(
      and(eq(drafts.academyId, academyId), eq(drafts.techniqueId, technique), eq(drafts.begunFrom, edition)),
    );
  return draft ? 'a draft builds on it' : null;
}

/** Undoes an import, except for reps that other facts depend on by now; those are reported. */
export const takeBack = (
  db: Db,
  academyId: Id,
  {
    techniques: brought,
    drafts: begun,
    drills: newDrills,
    pieces: newPieces,
    positions: brandNew,
  }: BroughtBreakdowns,
): Promise<{ gone: number; stays: { what: string; reason: string }[] }> =>
  db.transaction(async (tx) => {
    const stays: { what: string; reason: string }[] = [];
    const gone = new Set<Id>();
    for (const id of begun)
      // One that somebody has gone on writing is theirs.
      for (const draft of await tx
        .delete(drafts)
        .where(and(eq(drafts.academyId, academyId), eq(drafts.techniqueId, id), eq(drafts.revision, 1)))
        .returning({ id: drafts.techniqueId }))
        gone.add(draft.id);
    for (const { id, editions, before } of brought) {
      const whole = await technique(tx, academyId, id);
      if (!whole) continue;
      const name = whole.technique.name;
      let kept = whole.editions.map(({ edition }) => edition);
      for (const edition of [...editions].sort((a, b) => b - a)) {
        if (!kept.includes(edition)) continue;
        const reason =
          kept.at(-1) === edition ? await missedBy(tx, academyId, id, edition) : 'a later edition follows it';
        if (reason !== null) {
          stays.push({ what: `${name}, edition ${edition}`, reason });
          break;
        }
        await tx
          .delete(breakdowns)
          .where(
            and(
              eq(breakdowns.academyId, academyId),
              eq(breakdowns.techniqueId, id),
              eq(breakdowns.edition, edition),
            ),
          );
        kept = kept.filter((other) => other !== edition);
        gone.add(id);
      }
      if (editions.some((edition) => kept.includes(edition))) continue;
      const row = and(eq(techniques.academyId, academyId), eq(techniques.id, id));
      const [draft] = await tx
        .select({ id: drafts.techniqueId })
        .from(drafts)
        .where(and(eq(drafts.academyId, academyId), eq(drafts.techniqueId, id)));
      if (before?.id === id)
        await tx.update(techniques).set({ name: before.name, technique: before, summary: null }).where(row);
      else if (kept.length === 0 && !draft) await tx.delete(techniques).where(row);
    }
    if (newDrills.length > 0)
      for (const drill of await tx
        .delete(drills)
        .where(and(eq(drills.academyId, academyId), inArray(drills.id, [...newDrills])))
        .returning({ id: drills.id }))
        gone.add(drill.id);
    if (brandNew.length > 0)
      for (const position of await tx
        .delete(positions)
        .where(and(eq(positions.academyId, academyId), inArray(positions.id, [...brandNew])))
        .returning({ id: positions.id }))
        gone.add(position.id);
    for (const id of newPieces) {
      const having = await techniquesWith(tx, academyId, id);
      if (having.length > 0)
        stays.push({ what: `the piece “${id}”`, reason: `${having.join(', ')} still uses it` });
      else if (await removePiece(tx, academyId, id)) gone.add(id);
    }
    await readingsChanged(tx, academyId);
    await tx.update(techniques).set({ summary: null }).where(eq(techniques.academyId, academyId));
    return { gone: gone.size, stays };
  });
