import { z } from 'zod';
import { Id } from '../breakdown';
import { FactId, Instant } from '../rep';
import { factKind } from './kind';

/**
 * Takes a rep back. It removes exactly that rep, whichever of the two arrives first. Where the whole import was taken back
 * with which it came, nobody has said that the rep was wrong: the file may be read again, and gives it a new id.
 */
export const Void = z.object({
  id: FactId,
  rep: FactId,
  at: Instant,
  observer: Id,
  ofImport: z.boolean().default(false),
});
export type Void = z.infer<typeof Void>;

export const voids = factKind({
  is: 'void',
  name: 'An undo',
  says: 'takes a rep back, whichever of the two arrives first',
  schema: Void,
  under: 'rep',
  recounts: true,
  faultOf: () => null,
});
