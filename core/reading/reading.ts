import { z } from 'zod';
import { Id, Side } from '../breakdown';
import { Estimate } from '../math';
import { Rung } from '../rep';

const rate = z.number().min(0).max(1);
const n = z.int().min(0);

/** Stops put down to one cause; the untagged ones under null. */
export const CauseShare = z.object({
  cause: Id.nullable(),
  kind: z.enum(['mistake', 'defence', 'unknown']),
  stops: n,
});
export type CauseShare = z.infer<typeof CauseShare>;

/** How often a checkpoint held at one rung. */
export const RungReading = z.object({ rung: Rung, reached: n, failed: n, held: Estimate });
export type RungReading = z.infer<typeof RungReading>;

/** What the reps of one student (or the squad) say about one checkpoint. */
export const CheckpointReading = z.object({
  checkpoint: Id,
  /** Reps that reached it: the n of the hazard. */
  reached: n,
  failed: n,
  /** P(stop here | reached), mean and 80 % interval of the posterior. */
  hazard: Estimate,
  /** Share of all reps that get as far as this checkpoint. */
  survivalBefore: rate,
  /** Share of all reps lost here. Leaks and finish odds sum to 1. */
  leak: Estimate,
  /** What finish odds would rise by if the hazard fell to `target`. */
  gain: Estimate,
  target: rate,
  /** The stops split by what ended them, mistakes first; an untagged remainder last. */
  causes: z.array(CauseShare),
  /** Is the interval narrow enough to act on? If not, about how many more reps that reach it would make it so? */
  enough: z.boolean(),
  moreNeeded: n,
  /** Hold rate rung by rung, for the rungs that were tried. */
  byRung: z.array(RungReading),
  /** P(the off side breaks more often); null where either side was reached fewer than five times. */
  sideGap: rate.nullable(),
});
export type CheckpointReading = z.infer<typeof CheckpointReading>;

/** The reading of one student on one technique, or of the whole squad where `student` is null. */
export const Reading = z.object({
  student: Id.nullable(),
  /** Reps that counted. */
  reps: n,
  finished: n,
  /** Share of judged whole reps that finished, as counted, with Wilson's interval; null where there is none. */
  finishedShare: Estimate.nullable(),
  /** The product of all hold rates, with its interval from seeded draws. */
  finishOdds: Estimate,
  checkpoints: z.array(CheckpointReading),
});
export type Reading = z.infer<typeof Reading>;

/** Readings of everybody who has a rep on the technique, and of the squad as one. */
export const SquadReading = z.object({
  technique: Id,
  edition: z.int().positive(),
  asOf: z.iso.datetime({ offset: true }),
  halfLifeDays: z.number().positive(),
  rung: Rung.nullable(),
  side: Side.nullable(),
  squad: Reading,
  students: z.array(Reading),
});
export type SquadReading = z.infer<typeof SquadReading>;
