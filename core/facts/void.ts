import { z } from 'zod';
import { Id } from '../breakdown';
import { FactId, Instant } from '../rep';
import { factKind, momentOf, othersOwn } from './kind';

/**
 * Undoes a rep, or restores one that was undone. It is about exactly that rep, whichever of the two arrives first. Where the
 * whole import was taken back with which it came, the rep itself was not wrong: the file may be read again, and
 * gives it a new id.
 */
export const Void = z.object({
  id: FactId,
  rep: FactId,
  at: Instant,
  observer: Id,
  ofImport: z.boolean().default(false),
  /** It brings a rep back that an earlier one took. The latest of a rep counts. */
  restores: z.boolean().optional(),
  /** The device on which it was undone: the coach who logged the rep on another one hears of it. */
  device: z.string().min(1).max(40).optional(),
});
export type Void = z.infer<typeof Void>;

export const voids = factKind({
  is: 'void',
  name: 'An undo',
  says: 'undoes a rep, whichever of the two arrives first; one that `restores` brings it back, and the latest counts',
  schema: Void,
  under: 'rep',
  people: () => [],
  renamed: (undo) => undo,
  tells: {
    title: 'Reps undone or restored',
    columns: ['When', 'By', 'What'],
    row: (undo, _, { coach }) => [
      momentOf(undo),
      coach(undo.observer),
      undo.restores ? 'restored' : 'undone',
    ],
  },
  recounts: true,
  faultOf: (undo, known) => othersOwn(known, known.repOf.get(undo.rep)),
});
