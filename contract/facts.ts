import { Id } from '@ulkret/core/breakdown';
import { eachList, factLists, type FactsByList as Facts, kindOf } from '@ulkret/core/facts';
import { FactId, Instant } from '@ulkret/core/rep';
import { z } from 'zod';
import { define } from './define';
import { Zone } from './zone';

/** The most facts that one batch may hold, counted over its lists. */
export const largestBatch = 5000;
/** Most faults of a file that are listed; for the rest only the number of rows. */
export const mostFaults = 200;
const tooMany = `a batch holds at most ${largestBatch} facts; send it in parts`;

// Counted before anything in it is read: each item is read on its own, so that a bad one does not cost the others.
const items = z.array(z.unknown()).max(largestBatch, tooMany).default([]);

/** A batch as it is sent. */
export const Batch = z
  .object(eachList(() => items))
  .refine((batch) => Object.values(batch).flat().length <= largestBatch, {
    message: tooMany,
  });
export type Batch = z.infer<typeof Batch>;

export const ItemAnswer = z.object({
  id: z.string(),
  is: z.enum(factLists().map((list) => kindOf(list).is)),
  answer: z.enum(['accepted', 'known', 'refused']),
  reason: z.string().optional(),
});
export type ItemAnswer = z.infer<typeof ItemAnswer>;

/** Facts by kind, as they are told. A list that is left out is empty; one that this side does not know is not read. */
export const FactsByList = z.object(
  eachList((list) => z.array(kindOf(list).schema).default([])),
) as unknown as z.ZodType<Facts>;

/** New facts from another device, all of one session. */
export const LiveFacts = z.object({ session: FactId, facts: FactsByList });
export type LiveFacts = z.infer<typeof LiveFacts>;

/** Something that is stored and that no reader understands, with why. */
export const SetAside = z.object({
  /** A kind of fact, or `session`, or `student`: of a person only what is told is not read. */
  is: z.string(),
  id: z.string(),
  reason: z.string(),
  stored: z.record(z.string(), z.unknown()),
});
export type SetAside = z.infer<typeof SetAside>;

export const factsFormat = 'ulkret.facts/1';

const RowFault = z.object({ line: z.int(), column: z.string(), reason: z.string() });

export const factsEndpoints = {
  live: define({
    method: 'get',
    path: '/api/live',
    who: 'assistant',
    summary:
      'Server-sent events of new facts: `facts` carries those of one class, `all` tells the device to ask for everything again',
    output: () => z.string(),
    outputType: 'text/event-stream',
  }),
  sendReps: define({
    method: 'post',
    path: '/api/reps',
    who: 'assistant',
    summary:
      'Send facts: reps, voids of reps, cause tags, second opinions, care notes, overrides and changes of a class. Each item is accepted, known or refused',
    body: () => Batch,
    output: () => z.object({ items: z.array(ItemAnswer) }),
  }),
  exportReps: define({
    method: 'get',
    path: '/api/export/reps.csv',
    who: 'coach',
    summary: 'All standing reps as CSV, or those of one technique or student',
    query: () => z.object({ technique: Id.optional(), student: Id.optional() }),
    output: () => z.string(),
    outputType: 'text/csv',
    watched: { as: 'took out the reps', about: 'student' },
  }),
  importReps: define({
    method: 'post',
    path: '/api/import/reps',
    who: 'coach',
    summary:
      'Import a CSV of reps: good rows are saved, bad rows are listed with their reason; look=yes is a dry run',
    query: () =>
      z.object({
        /** The time zone in which dates without one are meant, as an IANA name such as Europe/Lisbon; UTC where it is not said. */
        zone: Zone.optional(),
        look: z.enum(['yes', 'no']).optional(),
        /** Who the observers are whose names nobody here has: a JSON object of coach ids by name. */
        observers: z.string().max(20_000).optional(),
      }),
    body: () => z.string(),
    bodyType: 'text/csv',
    output: () =>
      z.object({
        /** The reps that are new. A void of each of them, `ofImport`, takes the import back. */
        accepted: z.array(FactId),
        known: z.int(),
        /** What was wrong with the refused rows, the first of it. */
        refused: z.array(RowFault).max(mostFaults),
        /** How many rows were refused, whether told or not. */
        refusedRows: z.int(),
        /** Good rows that contradict themselves, such as a value out of its tolerance at a checkpoint that held; the first of them. */
        odd: z.array(RowFault).max(mostFaults),
        /** Names in the observer column that nobody here has; their rows are refused until `observers` says who they are. */
        strangers: z.array(z.string()),
        /** What the new reps are of: whose on which technique, and from when to when; null where none is new. */
        brings: z
          .object({
            of: z.array(z.object({ student: Id, technique: Id, reps: z.int() })),
            from: Instant,
            until: Instant,
          })
          .nullable(),
      }),
  }),
  setAside: define({
    method: 'get',
    path: '/api/set-aside',
    who: 'coach',
    summary:
      'Stored entries that cannot be read, such as a rep of an impossible year: they count nowhere, and a void removes one from this list',
    output: () =>
      z.object({
        /** The first of it, as it is stored. */
        items: z.array(SetAside).max(mostFaults),
        n: z.int().min(0),
      }),
  }),
  exportFacts: define({
    method: 'get',
    path: '/api/export/facts.json',
    who: 'coach',
    summary: `Every fact of the academy, by kind (${factsFormat}), undone ones included`,
    output: () => z.string(),
    outputType: 'application/json',
    watched: { as: 'took out every fact' },
    again: true,
  }),
} as const;
