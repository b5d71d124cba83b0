import { z } from 'zod';
import { Id } from '../breakdown';
import { FactId, Instant } from './rep';

/**
 * How another observer saw a rep that is logged already, live or on a clip: where it stopped, or null for a finish. It
 * tells how well two people agree on a checkpoint; it never counts as a rep.
 */
export const SecondOpinion = z.object({
  id: FactId,
  rep: FactId,
  stop: Id.nullable(),
  at: Instant,
  observer: Id,
});
export type SecondOpinion = z.infer<typeof SecondOpinion>;
