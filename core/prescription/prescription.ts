import { z } from 'zod';
import { Id, Side } from '../breakdown';
import { Estimate } from '../math';
import { Rung } from '../rep';
import { Terms } from './step';

/** A checkpoint that could have been prescribed, what a dose there would bring, and why it is not what was chosen. */
export const Candidate = z.object({
  checkpoint: Id,
  rung: Rung,
  drill: Id.nullable(),
  minutes: z.number().positive(),
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

/** One correction for one student, with its numbers. */
export const Correction = z.object({
  kind: z.literal('correct'),
  checkpoint: Id,
  /** Reps that got here, and those that were lost here or later because of here: see `RootReading`. */
  reached: z.int(),
  failed: z.int(),
  /** Of the failed ones, those that stopped here. */
  failedHere: z.int(),
  /** Later stops that nobody tagged, and that would say more of it if somebody did. */
  open: z.int(),
  /** P(lost here, or later because of here | reached), and what it would be if it were fixed. */
  hazard: Estimate,
  leak: Estimate,
  gain: Estimate,
  target: z.number(),
  finishRate: z.number(),
  /** The checkpoint with the larger gain that has to wait for this one, under fundamentals first. */
  insteadOf: Id.nullable(),
  /** Where the reps stop, if that is later than the checkpoint to correct: the symptom of a root that is here. */
  symptom: Id.nullable(),
  /** The mistake rooted there that costs most, whose cue is given; null where the breakdown has none. */
  mistake: Id.nullable(),
  /** The defence that ends most of the stops there, if it ends more than any mistake. */
  defence: Id.nullable(),
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
  reason: Reason,
  /** Held in a row, from nothing, that signs it off. */
  heldInARow: z.int().positive(),
});

export type Correction = z.infer<typeof Correction>;

/** Too little is known for a verdict: what to watch, how often, at which rung, and from where the reps should start. */
const Watch = z.object({
  kind: z.literal('watch'),
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
  reps: z.int(),
  onwards: z.object({ checkpoint: Id, rung: Rung }).nullable(),
});

export const Prescription = z.discriminatedUnion('kind', [Correction, Watch, NothingToCorrect]);
export type Prescription = z.infer<typeof Prescription>;
