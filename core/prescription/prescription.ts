import { z } from 'zod';
import { Id, Side } from '../breakdown';
import { Estimate } from '../math';
import { Rung } from '../rep';
import { SignOffBy, Terms } from './step';

/** A checkpoint that could have been prescribed, what as many minutes there would bring, and why it is not what was chosen. */
export const Candidate = z.object({
  checkpoint: Id,
  rung: Rung,
  drill: Id.nullable(),
  /** How often a rep holds that is drilled for it at that rung. */
  hold: z.number(),
  /** What a dose does to the log-odds of breaking there. */
  fall: z.number(),
  /** What the finish rate is expected to rise by. */
  rise: z.number(),
  promise: z.number(),
  above: z.number(),
  lostBy: z
    .enum(['brings less', 'depends on it', 'declined', 'signed off', 'not clear yet', 'nothing to gain'])
    .nullable(),
});
export type Candidate = z.infer<typeof Candidate>;

/** Rules that decided besides the numbers. */
export const RuleFired = z.enum([
  'fundamentals first',
  'one rung above the highest tried at most',
  'the house allows no higher rung',
  'never free sparring',
  'the worse side first',
  'one side is signed off',
  'starts here because few get this far',
  'stops here because the drill does',
  'stops before it loads',
  'fewer because it loads',
]);
export type RuleFired = z.infer<typeof RuleFired>;

/** Why this and not another: the chosen one first, then those that lost, the best first. */
export const Reason = z.object({ candidates: z.array(Candidate), rules: z.array(RuleFired) });
export type Reason = z.infer<typeof Reason>;

/** What the student works on already, and whether that stays first; null where that is nothing. */
const InWork = z
  .object({
    checkpoint: Id,
    rung: Rung,
    state: z.enum(['accepted', 'in work', 'stepped back']),
    stays: z.boolean(),
  })
  .nullable();
export type InWork = z.infer<typeof InWork>;

/** One correction for one student, with its numbers. */
export const Correction = z.object({
  kind: z.literal('correct'),
  inWork: InWork.optional(),
  checkpoint: Id,
  /** Reps that show it, and those that were lost here or later because of here: see `RootReading`. */
  reached: z.int(),
  failed: z.int(),
  /** Of the failed ones, those that stopped here. */
  failedHere: z.int(),
  /** Later stops that nobody tagged, and that would say more of it if somebody did. */
  open: z.int(),
  /** P(lost here, or later because of here | reached), had nothing else ended a rep, and what it would be if it were fixed. */
  hazard: Estimate,
  /** P(lost here | reached) by the model. */
  here: Estimate,
  leak: Estimate,
  gain: Estimate,
  target: z.number(),
  finishRate: z.number(),
  /** The checkpoint with the larger gain that has to wait for this one, under fundamentals first. */
  insteadOf: Id.nullable(),
  /** Where the reps stop, if that is later than the checkpoint to correct: the symptom of a root that is here. */
  symptom: Id.nullable(),
  /** The mistake rooted there, if it explains most of the losses; its cue is given. */
  mistake: Id.nullable(),
  /** The defence that does, if it is one. */
  defence: Id.nullable(),
  /** The answer to that defence: the one that works best here, else the first; null where none is recorded. */
  answer: z
    .object({
      defence: Id,
      answer: Id.nullable(),
      /** How often it was tried here and worked; null where that is not known yet. */
      known: z.object({ tried: z.int(), worked: z.int() }).nullable(),
    })
    .nullable(),
  /** The way of it that the student's body calls for; null where it calls for none. */
  way: Id.nullable(),
  /** Who has said so: tags of this student’s own reps, or, where there are none, the squad’s and the breakdown’s shares. */
  toldBy: z.enum(['own tags', 'others']),
  dose: z.object({
    reps: z.int().positive(),
    sets: z.int().positive(),
    rung: Rung,
    /** Both, unless one is signed off at this rung. */
    sides: Terms.shape.sides,
    /** The side to begin with: the one that is drilled alone, the worse one where it surely is, else the main one. */
    first: Side,
    startAt: Id.nullable(),
    /** The last checkpoint that is done; null where the reps go on. */
    endAt: Id.nullable(),
  }),
  /** What to drill it with; null where the library has nothing for it. */
  drill: Id.nullable(),
  /** What the mistake itself says to drill, where that is none of the library's. */
  ownDrill: z.string().nullable(),
  /** Whole minutes that the dose takes. */
  minutes: z.int().positive(),
  proof: SignOffBy,
  reason: Reason,
  /** Held in a row, from nothing, that signs it off. */
  heldInARow: z.int().positive(),
});

export type Correction = z.infer<typeof Correction>;

/** Too little is known for a verdict: what to watch, how often, at which rung, and from where the reps should start. */
const Watch = z.object({
  kind: z.literal('watch'),
  inWork: InWork.optional(),
  checkpoint: Id,
  reached: z.int(),
  failed: z.int(),
  more: z.int().positive(),
  rung: Rung,
  startAt: Id.nullable(),
});

/** Nothing is worth correcting: no checkpoint is above what the squad's best quarter does. What would still bring most. */
const NothingToCorrect = z.object({
  kind: z.literal('none'),
  inWork: InWork.optional(),
  reps: z.int(),
  onwards: z.object({ checkpoint: Id, rung: Rung }).nullable(),
});

export const Prescription = z.discriminatedUnion('kind', [Correction, Watch, NothingToCorrect]);
export type Prescription = z.infer<typeof Prescription>;
