import { Breakdown, CheckpointKind, Draft, Id, Side, Technique } from '@ulkret/core/breakdown';
import { BreakdownFile, FileFault, FileItem } from '@ulkret/core/formats';
import { CareNote, Override } from '@ulkret/core/care';
import { Student } from '@ulkret/core/people';
import { Prescription } from '@ulkret/core/prescription';
import {
  Agreement,
  Cell,
  Method,
  Partner,
  Reading,
  ReadingSettings,
  SquadReading,
} from '@ulkret/core/reading';
import { CauseTag, FactId, Instant, Rep, Rung, SecondLook, Void } from '@ulkret/core/rep';
import { Change, Session } from '@ulkret/core/session';
import { z } from 'zod';
import type { Endpoint } from './endpoint';

export * from './endpoint';
export * from './openapi';

const nothing = z.object({});
const define = <
  Params extends z.ZodType = typeof nothing,
  Query extends z.ZodType = typeof nothing,
  Body extends z.ZodType = z.ZodUndefined,
  Output extends z.ZodType = z.ZodType,
  Open extends true | undefined = undefined,
>(
  endpoint: Omit<Endpoint<Params, Query, Body, Output>, 'params' | 'query' | 'body' | 'open'> & {
    params?: Params;
    query?: Query;
    body?: Body;
    open?: Open;
  },
): Endpoint<Params, Query, Body, Output> & { open: Open } => ({
  ...endpoint,
  open: endpoint.open as Open,
  params: endpoint.params ?? (nothing as z.ZodType as Params),
  query: endpoint.query ?? (nothing as z.ZodType as Query),
  body: endpoint.body ?? (z.undefined() as z.ZodType as Body),
});

/** Header of every answer: the server's clock, in milliseconds since the epoch. */
export const serverTime = 'server-time';

/** How every refusal reads: what happened, and what to do. */
export const Refusal = z.object({ error: z.string(), todo: z.string() });
export type Refusal = z.infer<typeof Refusal>;

export const Coach = z.object({ id: Id, name: z.string(), role: z.enum(['head', 'assistant']) });
export type Coach = z.infer<typeof Coach>;

export const SignedIn = z.object({
  coach: Coach.nullable(),
  academy: z.object({ id: Id, name: z.string() }).nullable(),
  /** True on an instance without any coach: the first one is asked for instead of a sign-in. */
  firstCoachWanted: z.boolean(),
  /** Shown on the sign-in page of a demo instance. */
  demoSignIn: z.object({ email: z.string(), password: z.string() }).nullable(),
});
export type SignedIn = z.infer<typeof SignedIn>;

/** What a list tells of a technique: its latest edition, and what the critique finds in it. */
export const TechniqueSummary = z.object({
  /** 0 where it was never published. */
  edition: z.int(),
  editions: z.int(),
  strand: z.array(z.object({ id: Id, kind: CheckpointKind, belief: z.number() })),
  errors: z.int(),
  warnings: z.int(),
  /** The words of its checkpoints, for searching. */
  words: z.string(),
});
export type TechniqueSummary = z.infer<typeof TechniqueSummary>;

export const TechniqueRow = TechniqueSummary.extend({
  technique: Technique,
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
    .array(z.union([z.string().max(80), z.int().min(0)]))
    .max(12)
    .readonly(),
  value: z.unknown().optional(),
});

export const SessionRow = z.object({ session: Session, reps: z.int(), students: z.int() });
export type SessionRow = z.infer<typeof SessionRow>;

/** The most facts that one batch may hold, counted over its lists. */
export const largestBatch = 5000;

/** Every kind of fact by the name of its list in a batch, with its schema and what one of it is called in an answer. */
export const factKinds = {
  reps: { is: 'rep', schema: Rep },
  voids: { is: 'void', schema: Void },
  tags: { is: 'tag', schema: CauseTag },
  looks: { is: 'look', schema: SecondLook },
  notes: { is: 'note', schema: CareNote },
  overrides: { is: 'override', schema: Override },
  changes: { is: 'change', schema: Change },
} as const;
export type FactKind = keyof typeof factKinds;
export type FactOf<K extends FactKind> = z.infer<(typeof factKinds)[K]['schema']>;
export const factKindNames = Object.keys(factKinds) as FactKind[];

const item = z.looseObject({ id: z.unknown() });
const items = z.array(item).default([]);
/** A batch as it is sent. Its items are read one by one, so that a bad one does not cost the others. */
export const Batch = z
  .object({
    reps: items,
    voids: items,
    tags: items,
    looks: items,
    notes: items,
    overrides: items,
    changes: items,
  } satisfies Record<FactKind, typeof items>)
  .refine((batch) => Object.values(batch).flat().length <= largestBatch, {
    message: `a batch holds at most ${largestBatch} facts; send it in parts`,
  });
export type Batch = z.infer<typeof Batch>;

export const ItemAnswer = z.object({
  id: z.string(),
  is: z.enum(['rep', 'void', 'tag', 'look', 'note', 'override', 'change']),
  answer: z.enum(['accepted', 'known', 'refused']),
  reason: z.string().optional(),
});
export type ItemAnswer = z.infer<typeof ItemAnswer>;

/** The facts of one session, as a device merges them with its own. */
export const SessionFacts = z.object({
  reps: z.array(Rep),
  voids: z.array(Void),
  tags: z.array(CauseTag),
  notes: z.array(CareNote),
  overrides: z.array(Override),
  changes: z.array(Change),
});

/** What is told of facts that somebody else sent: all of one session. */
export const LiveFacts = z.object({ session: FactId, facts: SessionFacts });
export type LiveFacts = z.infer<typeof LiveFacts>;

export const RowFault = z.object({ line: z.int(), column: z.string(), reason: z.string() });

const number = (low: number, high: number) =>
  z.string().transform((text, context) => {
    const value = Number(text);
    if (Number.isInteger(value) && value >= low && value <= high) return value;
    context.addIssue({ code: 'custom', message: `it should be a whole number from ${low} to ${high}` });
    return z.NEVER;
  });

/** Which weeks are read: `weeks` of them up to that of `asOf`, 0 for all. What is left out is as usual. */
const period = {
  asOf: Instant.optional(),
  weeks: number(0, 520).optional(),
};
/** Which reps of these weeks; what is left out is not asked for. */
const slice = {
  rung: number(0, 4)
    .transform((rung) => Rung.parse(rung))
    .optional(),
  side: Side.optional(),
  partner: Partner.optional(),
};
/** Days after which a rep counts half; 0 lets all count alike. */
const halfLife = number(0, 3650).optional();

/** What a device needs on the Mat, whether there is a network or not. */
export const Kit = z.object({
  techniques: z.array(z.object({ technique: Technique, breakdown: Breakdown })),
  students: z.array(Student),
  /** Stops for safety that still keep somebody off something. */
  notes: z.array(CareNote),
  /** The latest first. */
  sessions: z.array(Session),
});
export type Kit = z.infer<typeof Kit>;

export const StudentReading = z.object({ reading: Reading, prescription: Prescription });

export const endpoints = {
  health: define({
    method: 'get',
    path: '/api/health',
    open: true,
    summary: 'Is the server up and its database reachable?',
    output: z.object({ status: z.literal('ok'), version: z.string(), database: z.literal('ok') }),
  }),
  session: define({
    method: 'get',
    path: '/api/session',
    open: true,
    summary: 'Who is signed in',
    output: SignedIn,
  }),
  signIn: define({
    method: 'post',
    path: '/api/session',
    open: true,
    summary: 'Sign in; the answer sets an HttpOnly cookie',
    body: z.object({ email: z.string().trim().min(1).max(200), password: z.string().min(1).max(200) }),
    output: SignedIn,
  }),
  signOut: define({
    method: 'delete',
    path: '/api/session',
    open: true,
    summary: 'Sign out on this device',
    output: SignedIn,
  }),
  firstCoach: define({
    method: 'post',
    path: '/api/coaches/first',
    open: true,
    summary: 'Make the first academy and its head coach; refused once there is one',
    body: z.object({
      academy: z.string().trim().min(1, 'the academy needs a name').max(80),
      name: z.string().trim().min(1, 'your name is needed').max(80),
      email: z.email('that is not an email address').max(200),
      password: z.string().min(10, 'a password needs ten characters or more').max(200),
      starter: z.boolean(),
    }),
    output: SignedIn,
  }),
  techniques: define({
    method: 'get',
    path: '/api/techniques',
    summary: 'The library, a row a technique',
    output: z.object({ techniques: z.array(TechniqueRow) }),
  }),
  technique: define({
    method: 'get',
    path: '/api/techniques/:id',
    summary: 'One technique with every published edition of its breakdown, the latest last',
    params: z.object({ id: Id }),
    output: z.object({ technique: Technique, editions: z.array(Breakdown) }),
  }),
  addTechnique: define({
    method: 'post',
    path: '/api/techniques',
    summary: 'Begin a technique, under an id made by the device; it has a draft and no edition yet',
    body: Technique,
    output: SavedDraft,
  }),
  draft: define({
    method: 'get',
    path: '/api/techniques/:id/draft',
    summary: 'The edition that is being written, or null where nobody is writing one',
    params: z.object({ id: Id }),
    output: z.object({ draft: SavedDraft.nullable() }),
  }),
  saveDraft: define({
    method: 'put',
    path: '/api/techniques/:id/draft',
    summary:
      'Save what was edited in a draft since a revision (0: since the latest edition); refused with 409 where somebody saved in between',
    params: z.object({ id: Id }),
    body: z.object({
      revision: z.int().min(0),
      /** The latest edition that who saves has seen; the draft begins from it where the revision is 0. */
      edition: z.int().min(0),
      /** What is different now in `{ technique, draft }`; the whole at the path []. */
      edits: z.array(DraftEdit).max(10_000),
    }),
    output: SavedDraft.pick({ revision: true, savedBy: true, savedAt: true }),
  }),
  discardDraft: define({
    method: 'delete',
    path: '/api/techniques/:id/draft',
    summary: 'Throw the draft away; a technique that was never published goes with it',
    params: z.object({ id: Id }),
    output: z.object({ discarded: z.boolean() }),
  }),
  publish: define({
    method: 'post',
    path: '/api/techniques/:id/publish',
    summary: 'Make the draft the next edition; refused while the critique finds an error',
    params: z.object({ id: Id }),
    body: z.object({ revision: z.int() }),
    output: z.object({ edition: z.int() }),
  }),
  breakdownSchema: define({
    method: 'get',
    path: '/api/schema/breakdown.json',
    open: true,
    summary: 'The format of breakdowns as JSON Schema',
    output: z.record(z.string(), z.unknown()),
  }),
  exportBreakdowns: define({
    method: 'get',
    path: '/api/export/breakdowns.json',
    summary: 'The library, or one technique of it, with every edition',
    query: z.object({ technique: Id.optional() }),
    output: BreakdownFile,
  }),
  importBreakdowns: define({
    method: 'post',
    path: '/api/import/breakdown',
    summary:
      'Read a file of breakdowns: what is new or changed is kept, the rest is told; with dry=true nothing is kept',
    query: z.object({ dry: z.enum(['true', 'false']).optional() }),
    body: z.unknown(),
    output: z.object({ kept: z.boolean(), items: z.array(FileItem), fault: FileFault.nullable() }),
  }),
  students: define({
    method: 'get',
    path: '/api/students',
    summary: 'The roster',
    output: z.object({ students: z.array(Student) }),
  }),
  saveStudent: define({
    method: 'put',
    path: '/api/students/:id',
    summary: 'Add a student under an id made by the device, or change one',
    params: z.object({ id: Id }),
    body: Student,
    output: Student,
  }),
  sessions: define({
    method: 'get',
    path: '/api/sessions',
    summary: 'Drilling sessions, latest first, at most sixty',
    output: z.object({ sessions: z.array(SessionRow) }),
  }),
  drillingSession: define({
    method: 'get',
    path: '/api/sessions/:id',
    summary: 'One drilling session with all its facts',
    params: z.object({ id: FactId }),
    output: z.object({ session: Session, facts: SessionFacts }),
  }),
  live: define({
    method: 'get',
    path: '/api/live',
    summary:
      'Server-sent events of facts as the server gets them: `facts` carries those of one session, `all` says to ask for everything again',
    output: z.string(),
    outputType: 'text/event-stream',
  }),
  kit: define({
    method: 'get',
    path: '/api/kit',
    summary:
      'What a device needs to set up and run sessions without a network: techniques with their latest edition, the roster, care notes, and the last sessions',
    output: Kit,
  }),
  saveSession: define({
    method: 'put',
    path: '/api/sessions/:id',
    summary:
      'Keep a drilling session under the id that the device gave it; what changes later is a fact of its own',
    params: z.object({ id: FactId }),
    body: Session,
    output: Session,
  }),
  sendReps: define({
    method: 'post',
    path: '/api/reps',
    summary:
      'Send facts: reps, voids of reps, cause tags, second looks, care notes, overrides and changes of a session. Each item is accepted, known or refused',
    body: Batch,
    output: z.object({ items: z.array(ItemAnswer) }),
  }),
  evidence: define({
    method: 'get',
    path: '/api/reps',
    summary: 'The reps that reached a checkpoint and what each says about it, latest first',
    query: z.object({ technique: Id, checkpoint: Id, student: Id.optional(), ...period, ...slice }),
    output: z.object({
      reps: z.array(z.object({ rep: Rep, observation: z.enum(['held', 'soft', 'failed']) })),
    }),
  }),
  exportReps: define({
    method: 'get',
    path: '/api/export/reps.csv',
    summary: 'All standing reps as CSV, or those of one technique or student',
    query: z.object({ technique: Id.optional(), student: Id.optional() }),
    output: z.string(),
    outputType: 'text/csv',
  }),
  importReps: define({
    method: 'post',
    path: '/api/import/reps',
    summary: 'Read a CSV of reps: the good rows are kept, each bad one is listed with its reason',
    body: z.string(),
    bodyType: 'text/csv',
    output: z.object({
      accepted: z.int(),
      known: z.int(),
      refused: z.array(RowFault),
    }),
  }),
  tallies: define({
    method: 'get',
    path: '/api/tallies',
    summary:
      'What readings are made of: the reps of the academy, counted under like conditions and weighed by age',
    query: z.object({ technique: Id.optional(), ...period, halfLife }),
    output: z.object({
      asOf: Instant,
      since: z.iso.date().nullable(),
      halfLifeDays: z.number().positive(),
      cells: z.array(Cell),
    }),
  }),
  readings: define({
    method: 'get',
    path: '/api/readings',
    summary:
      'Where the reps end: the squad’s reading of a technique and each student’s, with one prescription each',
    query: z.object({
      technique: Id,
      student: Id.optional(),
      method: Method.optional(),
      halfLife,
      ...period,
      ...slice,
    }),
    output: SquadReading.omit({ students: true }).extend({
      settings: ReadingSettings,
      students: z.array(StudentReading),
    }),
  }),
  agreement: define({
    method: 'get',
    path: '/api/agreement',
    summary: 'How well two observers of the same reps agree, kind by kind and checkpoint by checkpoint',
    query: z.object({ technique: Id }),
    output: Agreement,
  }),
} as const;

export type Endpoints = typeof endpoints;
