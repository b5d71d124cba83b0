import { z } from 'zod';
import { EditionNumber, Id, Proof, Side } from '../breakdown';
import { Estimate } from '../math';
import { FactId, Instant, Rung } from '../rep';

const words = z.string().max(400);

/** A sign that replaces reps at a checkpoint. */
export const Sign = z.object({ by: Proof.shape.by, text: z.string().max(2000) });
export type Sign = z.infer<typeof Sign>;

/**
 * What proves that a correction worked. A rep proves it only if it goes as far as the checkpoint where the failure `shows`: the
 * dose goes that far, or a few test reps do, or a sign replaces them because nobody may be loaded that far.
 */
export const SignOffBy = z.discriminatedUnion('by', [
  z.object({ by: z.literal('dose'), shows: Id }),
  /** As many reps of a class as the caps allow so far. */
  z.object({ by: z.literal('test'), shows: Id, reps: z.int().min(1).max(100) }),
  /** Null where the checkpoint says no sign. */
  z.object({ by: z.literal('sign'), shows: Id, sign: Sign.nullable() }),
]);
export type SignOffBy = z.infer<typeof SignOffBy>;

/** The terms of a correction: the drill, the dose, the rung, and the span. */
export const Terms = z.object({
  checkpoint: Id,
  /** The mistake or defence that is corrected there, if it is known. */
  mistake: Id.nullable(),
  defence: Id.nullable(),
  /** What the coach says, written for a right lead side. */
  cue: words,
  drill: Id.nullable(),
  rung: Rung,
  sides: z.enum(['both', 'right', 'left']),
  first: Side,
  reps: z.int().min(1).max(100),
  sets: z.int().min(1).max(20),
  startAt: Id.nullable(),
  endAt: Id.nullable(),
  /** Where it is left out, by its own reps. */
  proof: SignOffBy.optional(),
});
export type Terms = z.infer<typeof Terms>;

/** The numbers at the time of acceptance, so that nobody has to remember whether it worked. */
export const Stood = z.object({
  reached: z.int().min(0),
  failed: z.int().min(0),
  hazard: Estimate,
  target: z.number().min(0).max(1),
});
export type Stood = z.infer<typeof Stood>;

const accepted = z.object({ is: z.literal('accepted'), terms: Terms, stood: Stood.nullable() });
const edited = z.object({ is: z.literal('edited'), of: FactId, terms: Terms });
/** Why a correction is not wanted. */
export const DeclineReason = z.string().trim().min(3, 'say in a few words why not').max(300);
const declined = z.object({
  is: z.literal('declined'),
  checkpoint: Id,
  reason: DeclineReason,
});
const ended = z.object({ is: z.literal('ended'), of: FactId, reason: z.string().trim().max(300) });
/** Signed off by a sign and not by reps: what was seen or felt. */
const signed = z.object({
  is: z.literal('signed'),
  of: FactId,
  reason: z.string().trim().min(3, 'say what was seen or felt').max(300),
});
const undone = z.object({ is: z.literal('undone'), of: FactId });

/** What a coach decided about one student on one technique: a fact, never changed; the later one counts. */
export const Step = z.object({
  id: FactId,
  /** The class in which it was decided; null away from the mat. */
  session: FactId.nullable(),
  at: Instant,
  observer: Id,
  student: Id,
  technique: Id,
  edition: EditionNumber,
  does: z.discriminatedUnion('is', [accepted, edited, declined, ended, signed, undone]),
});
export type Step = z.infer<typeof Step>;
