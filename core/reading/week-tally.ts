import { z } from 'zod';
import { Id, Side } from '../breakdown';
import { Rung } from '../rep';

const n = z.int().min(0);

/**
 * How often a checkpoint was reached and how often it broke; the stops by their cause, untagged ones under ''; and how many
 * reps began there because somebody asked for it.
 */
export const Counts = z.object({
  reached: n,
  failed: n,
  begun: n,
  causes: z.record(z.string(), n),
  /**
   * The same as a root, where what begins here can show later: lost here or there, untagged and open, and held as far as each
   * checkpoint at which it can show.
   */
  root: z.object({ failed: n, open: n, held: z.record(Id, n) }).optional(),
});
export type Counts = z.infer<typeof Counts>;

/** The conditions of reps that are counted together. */
const conditions = {
  technique: Id,
  student: Id,
  rung: Rung,
  side: Side,
  /** ln(partner mass / student mass) in tenths, rounded; 0 where a mass is not known. */
  massBand: z.int(),
};

/** What one student did on one technique in one week under like conditions: what readings are made of. */
export const WeekTally = z.object({
  ...conditions,
  /** The day on which the week began, in UTC: the weekday is the house's. */
  week: z.iso.date(),
  reps: n,
  /** Whole reps that were judged, and how many of them finished. */
  judged: n,
  finished: n,
  checkpoints: z.record(Id, Counts),
});
export type WeekTally = z.infer<typeof WeekTally>;
