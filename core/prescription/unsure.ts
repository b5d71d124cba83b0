import { z } from 'zod';
import { Id } from '../breakdown';
import type { CheckpointReading, Reading } from '../reading';

/** If fewer reps than this share reach a checkpoint, reps should start there. */
const seldomReached = 0.5;

/** Where a rep should start so that it says something of a checkpoint; null is the beginning. */
export const startOf = ({ checkpoints }: Reading, at: CheckpointReading): Id | null =>
  at.survivalBefore < seldomReached && at !== checkpoints[0] ? at.checkpoint : null;

/** How open a choice is: the chance that this is what brings most × how wide the interval of what it brings is. */
export const opennessOf = ({ promise, rootGain }: CheckpointReading): number =>
  promise * (rootGain.high - rootGain.low);

/** What the next reps of one student should be looked at for. */
export const Unsure = z.object({
  checkpoint: Id,
  startAt: Id.nullable(),
  /** Reps that got there, by weight. */
  reached: z.number().min(0),
  openness: z.number().min(0),
});
export type Unsure = z.infer<typeof Unsure>;

/** An interval narrows with the square root of the reps, the rep that nobody has seen yet counted in. */
const narrowing = (reached: number): number => 1 - Math.sqrt((reached + 1) / (reached + 2));

/** By how much one more rep is expected to narrow the interval, after this many more that got there. */
export const teaches = ({ openness, reached }: Unsure, since = 0): number =>
  openness * narrowing(reached + since);

/** What the next rep of a student would teach most about. */
export function unsureOf(reading: Reading): Unsure | null {
  const all = reading.checkpoints.map((at): Unsure => ({
    checkpoint: at.checkpoint,
    startAt: startOf(reading, at),
    reached: at.atRoot.reached,
    openness: opennessOf(at),
  }));
  return all.length === 0 ? null : all.reduce((a, b) => (teaches(b) > teaches(a) ? b : a));
}
