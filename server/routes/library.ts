import {
  Breakdown,
  type Edit,
  edited,
  type Id,
  positionsFrom,
  publishable,
  withAnswerIds,
} from '@ulkret/core/breakdown';
import { breakdownFileOf, breakdownJsonSchema, readBreakdownSteps } from '@ulkret/core/formats';
import { type BroughtBreakdowns, endpoints, SavedDraft } from '@ulkret/contract';
import type { Router } from 'express';
import type { z } from 'zod';
import type { Db } from '../db/connect';
import {
  beginTechnique,
  begunFrom,
  discardDraft,
  draftOf,
  latestNumber,
  publishDraft,
  saveDraft,
} from '../library/drafts';
import { besideOf } from '../library/beside';
import { critic } from '../library/critic';
import { gated, keepGated, refuseHarm } from '../library/import';
import { takeBack } from '../library/take-back';
import { listedPieces, piecesOf, removePiece, savePiece, techniquesWith } from '../library/pieces';
import {
  mergePosition,
  ownPositions,
  partPosition,
  positionNamer,
  positionsOf,
  savePosition,
} from '../library/positions';
import { addMissing, checkpointsOf, library, technique, wholeLibrary } from '../library/techniques';
import { rested } from '../rested';
import { answer, check } from '../http/gate';
import { notFound, Refused } from '../refused';
import { drillsOf } from '../library/drills';
import type { Settings } from './settings';

const nothing: BroughtBreakdowns = { techniques: [], drafts: [], drills: [], pieces: [], positions: [] };

const savedInBetween = () =>
  new Refused(
    409,
    'Somebody else saved this draft at the same time.',
    'Your text is safe in this window: merge the two and save again.',
  );

/** Two who keep an edition under the same number at the same moment: one is kept, and the other is told. */
async function orMet<T>(keeping: Promise<T>): Promise<T> {
  try {
    return await keeping;
  } catch (error) {
    const { code, cause } = error as { code?: string; cause?: { code?: string } };
    if (!['23505', '40001', '40P01'].includes(code ?? cause?.code ?? '')) throw error;
    throw new Refused(
      409,
      'Someone published an edition at the same time.',
      'Nothing of yours was saved: try again.',
    );
  }
}

const Writing = SavedDraft.pick({ technique: true, draft: true });
type DraftAt = z.infer<typeof Writing> & Pick<SavedDraft, 'revision'>;

/** The starting point of a draft without a saved version; null if the latest edition is another one by now. */
async function begun(db: Db, academyId: Id, id: Id, edition: number): Promise<DraftAt | null> {
  const found = await technique(db, academyId, id);
  if (!found) throw notFound(`technique "${id}" in the library`);
  const latest = found.editions.at(-1);
  return latest?.edition === edition ? { technique: found.technique, draft: latest, revision: 0 } : null;
}

/** What is written with the edits made, not checked yet; null where one of them leads nowhere: it was made in something else. */
function editedOrNull({ technique: one, draft }: z.infer<typeof Writing>, edits: readonly Edit[]): unknown {
  try {
    return edited({ technique: one, draft }, edits);
  } catch {
    return null;
  }
}

export function libraryRoutes(router: Router, db: Db, { starter }: Pick<Settings, 'starter'>): void {
  techniqueRoutes(router, db, starter);
  draftRoutes(router, db);
  positionRoutes(router, db);
  pieceRoutes(router, db);
  fileRoutes(router, db);
}

function techniqueRoutes(router: Router, db: Db, starter: Settings['starter']): void {
  answer(router, db, endpoints.techniques, async (_, { coach: { academyId } }) => {
    const [rows, called] = await Promise.all([library(db, academyId), positionNamer(db, academyId)]);
    return {
      techniques: rows.map((row) => ({ ...row, position: called(row.technique.startPosition) })),
    };
  });

  answer(router, db, endpoints.technique, async ({ params }, { coach }) => {
    const found = await technique(db, coach.academyId, params.id);
    if (!found) throw notFound(`technique "${params.id}" in the library`);
    return found;
  });

  answer(router, db, endpoints.addTechnique, async ({ body }, { coach }) => {
    const draft = {
      technique: body.id,
      edition: 1,
      author: coach.name,
      date: new Date().toISOString().slice(0, 10),
      source: coach.academy,
      checkpoints: [],
      mistakes: [],
      defences: [],
    };
    const made = await beginTechnique(db, coach.academyId, body, draft, coach.name);
    if (!made)
      throw new Refused(
        409,
        `The library already has a technique "${body.id}".`,
        'Give this one another name.',
      );
    return made;
  });

  answer(router, db, endpoints.takeShipped, async (_, { coach }) => {
    const added = await addMissing(db, coach.academyId, starter);
    return { added, there: starter.length - added.length };
  });
}

function draftRoutes(router: Router, db: Db): void {
  answer(router, db, endpoints.draft, async ({ params }, { coach }) => ({
    draft: await draftOf(db, coach.academyId, params.id),
  }));

  answer(router, db, endpoints.saveDraft, async ({ params: { id }, body }, { coach }) => {
    const before =
      (await draftOf(db, coach.academyId, id)) ?? (await begun(db, coach.academyId, id, body.edition));
    const made = before?.revision === body.revision && editedOrNull(before, body.edits);
    if (!made) throw savedInBetween();
    const after = check(Writing, made, 'draft with these edits');
    if (after.technique.id !== id || after.draft.technique !== id)
      throw new Refused(
        400,
        'The address and the draft name different techniques.',
        'Save it under its own id.',
      );
    const saved = await saveDraft(db, coach.academyId, { ...after, revision: body.revision }, coach.name);
    if (!saved) throw savedInBetween();
    return saved;
  });

  answer(router, db, endpoints.discardDraft, async ({ params }, { coach }) => ({
    discarded: await discardDraft(db, coach.academyId, params.id),
  }));

  answer(router, db, endpoints.publish, async ({ params, body }, { coach }) => {
    const { academyId } = coach;
    const saved = await draftOf(db, academyId, params.id);
    if (!saved) throw notFound(`draft of "${params.id}"`);
    if (saved.revision !== body.revision) throw savedInBetween();
    const critique = await critic();
    const findings = critique(
      saved.draft,
      saved.technique,
      await checkpointsOf(db, academyId),
      await besideOf(db, academyId),
    );
    if (!publishable(findings)) {
      const errors = findings.filter(({ severity }) => severity === 'error');
      throw new Refused(
        422,
        `The critique finds ${errors.length === 1 ? 'an error' : `${errors.length} errors`}: ${errors[0]!.text}`,
        'Fix what is marked as an error; warnings may stay.',
      );
    }
    const latest = await latestNumber(db, academyId, params.id);
    if (latest !== (await begunFrom(db, academyId, params.id)) && body.over !== latest)
      throw new Refused(
        409,
        `Edition ${latest} was published after you started this draft.`,
        `Look at edition ${latest}, then publish anyway: it stays, and your draft becomes the next edition.`,
      );
    const edition = latest + 1;
    const date = new Date().toISOString().slice(0, 10);
    const breakdown = Breakdown.parse({ ...withAnswerIds(saved.draft), edition, date, author: coach.name });
    if (!(await orMet(publishDraft(db, academyId, body.revision, saved.technique, breakdown))))
      throw savedInBetween();
    return { edition };
  });
}

function positionRoutes(router: Router, db: Db): void {
  answer(router, db, endpoints.positions, async (_, { coach }) => ({
    positions: await positionsOf(db, coach.academyId),
  }));

  answer(router, db, endpoints.savePosition, async ({ params, body }, { coach }) =>
    savePosition(db, coach.academyId, { ...body, id: params.id }),
  );

  answer(router, db, endpoints.mergePosition, async ({ params, body }, { coach }) => {
    const merged = await mergePosition(db, coach.academyId, params.id, body.into);
    if (!merged) throw notFound(`other position "${body.into}" for "${params.id}" to be merged into`);
    return merged;
  });

  answer(router, db, endpoints.partPosition, async ({ params }, { coach }) => {
    const parted = await partPosition(db, coach.academyId, params.id);
    if (!parted) throw notFound(`merged position "${params.id}"`);
    return parted;
  });
}

function pieceRoutes(router: Router, db: Db): void {
  answer(router, db, endpoints.pieces, async (_, { coach }) => ({
    pieces: await listedPieces(db, coach.academyId),
  }));

  answer(router, db, endpoints.savePiece, ({ params, body }, { coach }) =>
    orMet(savePiece(db, coach.academyId, { ...body, id: params.id }, coach.name)),
  );

  answer(router, db, endpoints.removePiece, async ({ params: { id } }, { coach }) => {
    const having = await techniquesWith(db, coach.academyId, id);
    if (having.length > 0)
      throw new Refused(
        409,
        `${having.length === 1 ? 'A technique uses' : `${having.length} techniques use`} this piece: ${having.join(', ')}.`,
        'Unlink it there first, then delete it.',
      );
    return { removed: await removePiece(db, coach.academyId, id) };
  });
}

function fileRoutes(router: Router, db: Db): void {
  answer(router, db, endpoints.breakdownSchema, async () => breakdownJsonSchema());

  answer(router, db, endpoints.exportBreakdowns, async ({ query }, { coach, response }) => {
    response.attachment(query.technique ? `${query.technique}.json` : 'breakdowns.json');
    const { academyId } = coach;
    const [drills, pieces, positions] = await Promise.all([
      drillsOf(db, academyId),
      piecesOf(db, academyId),
      ownPositions(db, academyId),
    ]);
    const whole = await wholeLibrary(db, academyId, query.technique);
    return breakdownFileOf(whole, { drills, pieces, positions });
  });

  answer(router, db, endpoints.importBreakdowns, async ({ query, body }, { coach }) => {
    const known = new Map((await wholeLibrary(db, coach.academyId)).map((one) => [one.technique.id, one]));
    const there = {
      drills: await drillsOf(db, coach.academyId),
      pieces: await piecesOf(db, coach.academyId),
      positions: positionsFrom(await ownPositions(db, coach.academyId), []),
    };
    const read = await rested(readBreakdownSteps(body, (id) => known.get(id) ?? null, there));
    if ('fault' in read)
      return {
        kept: false,
        items: [],
        drills: [],
        pieces: [],
        positions: [],
        fault: read.fault,
        brought: nothing,
      };
    await refuseHarm(read.beside.drills);
    const settled = await checkpointsOf(db, coach.academyId);
    const beside = await besideOf(db, coach.academyId, {
      drills: read.beside.drills.keep,
      pieces: read.beside.pieces.keep,
      techniques: read.keep.map(({ technique: one }) => one),
    });
    const gate = await gated(
      db,
      coach.academyId,
      read.items,
      read.keep,
      new Set(known.keys()),
      settled,
      beside,
    );
    const kept = query.dry !== 'true';
    const brought = kept
      ? await orMet(keepGated(db, coach.academyId, gate, read.beside, known.values(), coach.name))
      : nothing;
    const { drills, pieces, positions } = read.beside;
    return {
      kept,
      items: gate.items,
      drills: drills.items,
      pieces: pieces.items,
      positions: positions.items,
      fault: null,
      brought,
    };
  });

  answer(router, db, endpoints.takeBreakdownsBack, ({ body }, { coach }) =>
    takeBack(db, coach.academyId, body),
  );
}
