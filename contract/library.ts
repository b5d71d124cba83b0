import {
  Position,
  Breakdown,
  CheckpointKind,
  Draft,
  Id,
  Piece,
  pieceWords,
  Technique,
} from '@ulkret/core/breakdown';
import { BesideItem, BreakdownFile, FileFault, FileItem } from '@ulkret/core/formats';
import { Instant } from '@ulkret/core/rep';
import { z } from 'zod';
import { define } from './define';

/** What a list tells of a technique: its latest edition, and what the critique finds in it. */
export const TechniqueSummary = z.object({
  /** 0 where it was never published. */
  edition: z.int(),
  editions: z.int(),
  strand: z.array(z.object({ id: Id, kind: CheckpointKind, belief: z.number(), title: z.string() })),
  errors: z.int(),
  warnings: z.int(),
  /** The words of its checkpoints, for searching. */
  words: z.string(),
});
export type TechniqueSummary = z.infer<typeof TechniqueSummary>;

export const TechniqueRow = TechniqueSummary.extend({
  technique: Technique,
  /** The position that its start is, as the academy calls it. */
  position: z.string(),
  reps: z.int(),
  draft: z.boolean(),
});
export type TechniqueRow = z.infer<typeof TechniqueRow>;

export const SavedDraft = z.object({
  technique: Technique,
  draft: Draft,
  /** Counts the savings: who saves says which one they began from. */
  revision: z.int(),
  savedBy: z.string(),
  savedAt: Instant,
});
export type SavedDraft = z.infer<typeof SavedDraft>;

/** A value to be put at a path of a draft; without a value the field is taken away. */
const DraftEdit = z.object({
  path: z
    .array(z.union([z.string().max(80), z.int().min(0).max(10_000)]))
    .max(12)
    .readonly(),
  value: z.unknown().optional(),
});

/** What a file has brought into the library: of each technique its editions, and what the technique was before; drafts; drills; pieces; positions. */
export const BroughtBreakdowns = z.object({
  techniques: z
    .array(
      z.object({
        id: Id,
        editions: z.array(z.int().positive()).max(1000),
        /** Null where the library had none of that id. */
        before: Technique.nullable(),
      }),
    )
    .max(10_000),
  drafts: z.array(Id).max(10_000),
  drills: z.array(Id).max(10_000),
  pieces: z.array(Id).max(10_000).default([]),
  positions: z.array(Id).max(10_000).default([]),
});
export type BroughtBreakdowns = z.infer<typeof BroughtBreakdowns>;

/** A piece, and where it occurs: in the draft of a technique where there is one, else in its latest edition. */
export const ListedPiece = Piece.extend({
  occurs: z.array(
    z.object({
      technique: Id,
      checkpoint: Id,
      /** What the checkpoint says in words of its own. */
      overwrites: z.array(z.enum(pieceWords)),
    }),
  ),
});
export type ListedPiece = z.infer<typeof ListedPiece>;

export const libraryEndpoints = {
  techniques: define({
    method: 'get',
    path: '/api/techniques',
    who: 'assistant',
    summary: 'The library, a row a technique',
    output: () => z.object({ techniques: z.array(TechniqueRow) }),
  }),
  technique: define({
    method: 'get',
    path: '/api/techniques/:id',
    who: 'assistant',
    summary: 'One technique with every published edition of its breakdown, the latest last',
    params: () => z.object({ id: Id }),
    output: () => z.object({ technique: Technique, editions: z.array(Breakdown) }),
  }),
  addTechnique: define({
    method: 'post',
    path: '/api/techniques',
    who: 'coach',
    summary: 'Create a technique, under an id made by the device; it has a draft and no edition yet',
    body: () => Technique,
    output: () => SavedDraft,
  }),
  takeShipped: define({
    method: 'post',
    path: '/api/library/shipped',
    who: 'coach',
    summary: 'Add the breakdowns that come with Ulkret, except those whose id exists',
    output: () => z.object({ added: z.array(Id), there: z.int() }),
  }),
  draft: define({
    method: 'get',
    path: '/api/techniques/:id/draft',
    who: 'assistant',
    summary: 'The draft of the next edition, or null',
    params: () => z.object({ id: Id }),
    output: () => z.object({ draft: SavedDraft.nullable() }),
  }),
  saveDraft: define({
    method: 'put',
    path: '/api/techniques/:id/draft',
    who: 'coach',
    summary:
      'Save edits of a draft since a revision (0: since the latest edition); refused with 409 if somebody saved in between',
    params: () => z.object({ id: Id }),
    body: () =>
      z.object({
        revision: z.int().min(0),
        /** The latest edition that who saves has seen; the draft begins from it where the revision is 0. */
        edition: z.int().min(0),
        /** What is different now in `{ technique, draft }`; the whole at the path []. */
        edits: z.array(DraftEdit).max(10_000),
      }),
    output: () => SavedDraft.pick({ revision: true, savedBy: true, savedAt: true }),
  }),
  discardDraft: define({
    method: 'delete',
    path: '/api/techniques/:id/draft',
    who: 'coach',
    summary: 'Discard the draft; an unpublished technique goes with it',
    params: () => z.object({ id: Id }),
    output: () => z.object({ discarded: z.boolean() }),
  }),
  publish: define({
    method: 'post',
    path: '/api/techniques/:id/publish',
    who: 'coach',
    summary:
      'Publish the draft as the next edition; refused while the critique finds an error, or if an edition came in since',
    params: () => z.object({ id: Id }),
    body: () =>
      z.object({
        revision: z.int(),
        /** An edition published after the draft was started, which the draft is to follow anyway. */
        over: z.int().optional(),
      }),
    output: () => z.object({ edition: z.int() }),
  }),
  positions: define({
    method: 'get',
    path: '/api/positions',
    who: 'assistant',
    summary: 'The positions of the academy: its own, the shipped ones, and those its breakdowns name',
    output: () =>
      z.object({
        positions: z.array(Position.extend({ techniques: z.array(Id) })),
      }),
  }),
  savePosition: define({
    method: 'put',
    path: '/api/positions/:id',
    who: 'coach',
    summary: 'Add or change a position; its former name stays one of its names',
    params: () => z.object({ id: Id }),
    body: () => Position.omit({ mergedInto: true }),
    output: () => Position,
  }),
  mergePosition: define({
    method: 'post',
    path: '/api/positions/:id/merge',
    who: 'coach',
    summary: 'Merge a position into another',
    params: () => z.object({ id: Id }),
    body: () => z.object({ into: Id }),
    output: () => Position,
  }),
  partPosition: define({
    method: 'post',
    path: '/api/positions/:id/part',
    who: 'coach',
    summary: 'Undo a merge',
    params: () => z.object({ id: Id }),
    output: () => Position,
  }),
  pieces: define({
    method: 'get',
    path: '/api/pieces',
    who: 'assistant',
    summary: 'Shared pieces, and where they are used',
    output: () => z.object({ pieces: z.array(ListedPiece) }),
  }),
  savePiece: define({
    method: 'put',
    path: '/api/pieces/:id',
    who: 'coach',
    summary: 'Add or change a piece; drafts of the techniques that use it follow',
    params: () => z.object({ id: Id }),
    body: () => Piece,
    output: () => z.object({ piece: Piece, drafts: z.array(Id) }),
  }),
  removePiece: define({
    method: 'delete',
    path: '/api/pieces/:id',
    who: 'coach',
    summary: 'Delete an unused piece',
    params: () => z.object({ id: Id }),
    output: () => z.object({ removed: z.boolean() }),
  }),
  breakdownSchema: define({
    method: 'get',
    path: '/api/schema/breakdown.json',
    who: 'anyone',
    summary: 'The format of breakdowns as JSON Schema',
    output: () => z.record(z.string(), z.unknown()),
  }),
  exportBreakdowns: define({
    method: 'get',
    path: '/api/export/breakdowns.json',
    who: 'coach',
    summary:
      'The library, or one technique of it, with every edition and the drills, pieces and positions that belong to it',
    query: () => z.object({ technique: Id.optional() }),
    output: () => BreakdownFile,
  }),
  importBreakdowns: define({
    method: 'post',
    path: '/api/import/breakdown',
    who: 'coach',
    summary:
      'Import a file of breakdowns: new and changed ones are saved, the rest is listed; dry=true saves nothing',
    query: () => z.object({ dry: z.enum(['true', 'false']).optional() }),
    body: () => z.unknown(),
    output: () =>
      z.object({
        kept: z.boolean(),
        items: z.array(FileItem),
        drills: z.array(BesideItem),
        pieces: z.array(BesideItem),
        positions: z.array(BesideItem),
        fault: FileFault.nullable(),
        /** Everything that was saved, so that the import of a wrong file can be undone as a whole. */
        brought: BroughtBreakdowns,
      }),
  }),
  takeBreakdownsBack: define({
    method: 'post',
    path: '/api/import/breakdown/back',
    who: 'coach',
    summary: 'Undo an import of breakdowns. An edition used since then stays, and is listed',
    body: () => BroughtBreakdowns,
    output: () =>
      z.object({
        gone: z.int().min(0),
        stays: z.array(z.object({ what: z.string(), reason: z.string() })),
      }),
  }),
} as const;
