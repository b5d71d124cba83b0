import { Id, Side } from '@ulkret/core/breakdown';
import { Decision, Prescription } from '@ulkret/core/prescription';
import {
  Agreement,
  Cell,
  ChoicesReading,
  Method,
  Partner,
  Reading,
  ReadingSettings,
  SquadRates,
  SquadReading,
  Weekday,
} from '@ulkret/core/reading';
import { Instant, Rep, Rung } from '@ulkret/core/rep';
import { z } from 'zod';
import { define } from './define';

const number = (low: number, high: number) =>
  z.string().transform((text, context) => {
    const value = Number(text);
    if (Number.isInteger(value) && value >= low && value <= high) return value;
    context.addIssue({ code: 'custom', message: `it should be a whole number from ${low} to ${high}` });
    return z.NEVER;
  });

/** Which weeks are read: `weeks` of them up to that of `asOf`, 0 (or left out) for all. */
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
/** What is read, and how. */
const reads = {
  technique: Id,
  method: Method.optional(),
  halfLife,
  ...period,
  ...slice,
  /** `yes`: at once, by the plain method where the full reading is not made yet; `settings` say by which. */
  now: z.enum(['yes', 'no']).optional(),
};

const StudentReading = z.object({ reading: Reading, prescription: Prescription.optional() });

/** Reps in one page of evidence. */
export const evidenceAtOnce = 200;

export const readingsEndpoints = {
  evidence: define({
    method: 'get',
    path: '/api/reps',
    who: 'assistant',
    summary: `The reps that reached a checkpoint and what each says about it, latest first, ${evidenceAtOnce} at a time`,
    query: () =>
      z.object({
        technique: Id,
        checkpoint: Id,
        student: Id.optional(),
        /** How many later ones have been told. */
        skip: number(0, 1_000_000).optional(),
        ...period,
        ...slice,
      }),
    output: () =>
      z.object({
        reps: z
          .array(z.object({ rep: Rep, observation: z.enum(['held', 'soft', 'failed']) }))
          .max(evidenceAtOnce),
        /** How many reached it in all, and how many of them ended there. */
        reached: z.int().min(0),
        failed: z.int().min(0),
      }),
  }),
  choices: define({
    method: 'get',
    path: '/api/choices',
    who: 'assistant',
    summary:
      'What was chosen on a technique and how it went: variants compared, answers to each defence, switches',
    query: () => z.object({ technique: Id, student: Id.optional(), ...period, ...slice }),
    output: () => ChoicesReading,
  }),
  tallies: define({
    method: 'get',
    path: '/api/tallies',
    who: 'assistant',
    summary: 'What readings are made of: reps counted under like conditions and weighed by age',
    query: () => z.object({ technique: Id.optional(), ...period, halfLife }),
    output: () =>
      z.object({
        asOf: Instant,
        since: z.iso.date().nullable(),
        weekBegins: Weekday,
        halfLifeDays: z.number().positive(),
        cells: z.array(Cell),
      }),
  }),
  readings: define({
    method: 'get',
    path: '/api/readings',
    who: 'assistant',
    summary:
      'Where the reps end: the squad’s reading of a technique and each student’s, with what to correct first (see /api/decisions)',
    query: () =>
      z.object({
        ...reads,
        student: Id.optional(),
        /** `no` leaves the prescriptions out, for which the full reading of all reps has to be made. */
        prescriptions: z.enum(['yes', 'no']).optional(),
      }),
    output: () =>
      SquadReading.omit({ students: true }).extend({
        settings: ReadingSettings,
        students: z.array(StudentReading),
      }),
  }),
  rates: define({
    method: 'get',
    path: '/api/rates',
    who: 'assistant',
    summary:
      'Only the rates of the readings: how many reps end at each checkpoint, and what each defence costs',
    query: () =>
      z.object({
        ...reads,
        /** `squad`: of the squad as one, and of nobody in it. */
        of: z.enum(['squad', 'everybody']).optional(),
        /** The squad and this student. */
        student: Id.optional(),
      }),
    output: () => SquadRates.extend({ settings: ReadingSettings }),
  }),
  decisions: define({
    method: 'get',
    path: '/api/decisions',
    who: 'assistant',
    summary: 'What to correct first for everyone on a technique, as every page and the Mat show it',
    query: () => z.object({ technique: Id }),
    output: () => z.object({ technique: Id, edition: z.int(), decisions: z.array(Decision) }),
  }),
  agreement: define({
    method: 'get',
    path: '/api/agreement',
    who: 'assistant',
    summary: 'How well two observers of the same reps agree, by kind and by checkpoint',
    query: () => z.object({ technique: Id }),
    output: () => Agreement,
  }),
} as const;
