import { z } from 'zod';
import { Id } from '../breakdown';
import { FactId, Instant, Rung } from './rep';

/** A drilling session as it was set up: who works with whom, on what, from where to where, and for how long. */
export const Session = z.object({
  id: FactId,
  technique: Id,
  edition: z.int().positive(),
  startedAt: Instant,
  endedAt: Instant.nullable(),
  /** In the order in which the coach walks; a third person in a pair rotates in. */
  pairs: z.array(z.array(Id).min(1).max(3)).min(1).max(40),
  rung: Rung,
  from: Id.nullable(),
  to: Id.nullable(),
  repsPerSide: z.int().min(1).max(50),
  roundSeconds: z.int().min(30).max(3600),
});
export type Session = z.infer<typeof Session>;
