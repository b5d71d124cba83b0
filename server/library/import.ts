import { setImmediate as rest } from 'node:timers/promises';
import type { Beside, Breakdown, Id, Library, Technique } from '@ulkret/core/breakdown';
import type { BroughtBreakdowns } from '@ulkret/contract';
import { type FileItem, pathOf, type ReadFile, type TechniqueInFile } from '@ulkret/core/formats';
import { eq } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { techniques } from '../db/schema';
import { harmInDrill, saveDrill } from './drills';
import { critic } from './critic';
import { draftOf, saveDraft } from './drafts';
import { addPiece } from './pieces';
import { keepPosition } from './positions';
import { addTechnique, forgetSummaries } from './techniques';

/** What a file brings after the gate: what is published, and what comes in as a draft because the critique finds errors. */
export interface Gated {
  items: FileItem[];
  publish: TechniqueInFile[];
  drafts: { technique: Technique; draft: TechniqueInFile['editions'][number] }[];
}

/**
 * Lets through the gate what could be published, technique by technique: the latest edition of a file goes the way that a
 * draft goes. One of which somebody is writing a draft here is refused, so that nobody's work is overwritten.
 */
export async function gated(
  db: Db,
  academyId: Id,
  items: readonly FileItem[],
  keep: readonly TechniqueInFile[],
  known: ReadonlySet<Id>,
  settled: Library,
  beside: Beside,
): Promise<Gated> {
  const inFile = new Map(keep.map(({ technique, editions }) => [technique.id, editions.at(-1)]));
  const library: Library = (id) => inFile.get(id)?.checkpoints.map((one) => one.id) ?? settled(id);
  const gate: Gated = { items: [...items], publish: [], drafts: [] };
  const say = (technique: Id, told: Partial<FileItem>) => {
    const at = gate.items.findIndex((item) => item.technique === technique && item.is !== 'refused');
    if (at >= 0) gate.items[at] = { ...gate.items[at]!, ...told };
  };
  const critique = await critic();
  for (const one of keep) {
    // A large file takes its time: others are answered in between.
    await rest();
    const { technique, editions } = one;
    const newest = editions.at(-1);
    const errors = newest
      ? critique(newest, technique, library, beside).filter(({ severity }) => severity === 'error')
      : [];
    if (!newest || errors.length === 0) {
      gate.publish.push(one);
      continue;
    }
    const at = gate.items.findIndex((item) => item.technique === technique.id);
    const faults = errors.map(({ path: [first, ...rest], text }) => ({
      path: pathOf([
        'techniques',
        at,
        ...(first === 'technique' ? [first] : ['editions', editions.length - 1, first!]),
        ...rest,
      ]),
      reason: text,
    }));
    if (await draftOf(db, academyId, technique.id)) {
      const reason = 'It has an open draft here: publish or discard it, then import the file again.';
      say(technique.id, { is: 'refused', faults: [{ path: technique.id, reason }, ...faults] });
      continue;
    }
    say(technique.id, { draft: true, faults });
    const before = editions.slice(0, -1);
    if (before.length > 0 || !known.has(technique.id)) gate.publish.push({ technique, editions: before });
    gate.drafts.push({ technique, draft: newest });
  }
  return gate;
}

/** Refuses the drills of a file that ask for harm, in place: they go through the gate that a saved drill goes through. */
export async function refuseHarm(drills: ReadFile['beside']['drills']): Promise<void> {
  for (const drill of [...drills.keep]) {
    const harm = await harmInDrill(drill);
    if (harm === null) continue;
    drills.keep.splice(drills.keep.indexOf(drill), 1);
    const item = drills.items.find(({ id, is }) => id === drill.id && is === 'new');
    if (item)
      Object.assign(item, {
        is: 'refused',
        reason: `“${harm}” asks for force or speed, or passes over the tap: say what to move, slowly.`,
      });
  }
}

/** The other techniques that an edition leads to. */
const linksOf = ({ defences, exits = [] }: Breakdown): Id[] => [
  ...defences.flatMap(({ brokenDownIn, answers }) => [
    ...(brokenDownIn === undefined ? [] : [brokenDownIn]),
    ...answers.flatMap((answer) => (answer.do === 'switch' ? [answer.technique] : [])),
  ]),
  ...exits.map(({ technique }) => technique),
];

/** Saves what the gate accepted, all of it or nothing. Links from the library to it are checked again. */
export const keepGated = (
  db: Db,
  academyId: Id,
  { publish, drafts: begun }: Gated,
  beside: ReadFile['beside'],
  known: Iterable<TechniqueInFile>,
  by: string,
): Promise<BroughtBreakdowns> =>
  db.transaction(async (tx) => {
    const [newDrills, newPieces, newPositions] = [
      beside.drills.keep,
      beside.pieces.keep,
      beside.positions.keep,
    ];
    const before = new Map(
      (
        await tx
          .select({ id: techniques.id, technique: techniques.technique })
          .from(techniques)
          .where(eq(techniques.academyId, academyId))
      ).map(({ id, technique }) => [id, technique]),
    );
    for (const one of publish) await addTechnique(tx, academyId, one);
    for (const drill of newDrills) await saveDrill(tx, academyId, drill);
    for (const piece of newPieces) await addPiece(tx, academyId, piece);
    for (const position of newPositions) await keepPosition(tx, academyId, position);
    for (const one of begun) await saveDraft(tx, academyId, { ...one, revision: 0 }, by);
    const changed = new Set(publish.map(({ technique }) => technique.id));
    const leading = [...known].filter(({ editions }) =>
      linksOf(editions.at(-1)!).some((id) => changed.has(id)),
    );
    await forgetSummaries(
      tx,
      academyId,
      leading.map(({ technique }) => technique.id),
    );
    return {
      techniques: publish.map(({ technique: { id }, editions }) => ({
        id,
        editions: editions.map(({ edition }) => edition),
        before: before.get(id) ?? null,
      })),
      drafts: begun.map((one) => one.technique.id),
      drills: newDrills.map(({ id }) => id),
      pieces: newPieces.map(({ id }) => id),
      positions: newPositions.map(({ id }) => id),
    };
  });
