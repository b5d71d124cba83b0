import { z } from 'zod';
import { Checkpoint, type Draft } from './breakdown';
import { same } from './changes';
import type { Id } from './ids';

/**
 * A grip, an angle or a tail that occurs in several techniques. Its words are written once, and what a student is like at it
 * is one: reps of all its techniques tell of it.
 */
export const Piece = Checkpoint.pick({
  id: true,
  kind: true,
  title: true,
  criterion: true,
  proofs: true,
  tolerance: true,
  caution: true,
}).extend({ title: z.string().trim().min(1, 'a piece needs a name').max(60) });
export type Piece = z.infer<typeof Piece>;

/** The pieces that ship; an academy adds its own, and changes these as it likes. */
export const shippedPieces: readonly Piece[] = [
  {
    id: 'hands-locked',
    kind: 'grip',
    title: 'Hands locked',
    criterion: 'Your hands are joined, and the wrists are straight.',
    proofs: [{ by: 'feel', text: 'The lock does not slip when they bridge.' }],
  },
];

/** What a checkpoint has from its piece, where it is not overwritten. */
export const pieceWords = ['kind', 'title', 'criterion', 'proofs', 'tolerance', 'caution'] as const;
type Words = Pick<Piece, (typeof pieceWords)[number]>;

const wordsIn = ({ kind, title, criterion, proofs, tolerance, caution }: Words): Words => ({
  kind,
  title,
  criterion,
  proofs,
  ...(tolerance !== undefined && { tolerance }),
  ...(caution !== undefined && { caution }),
});

/** A piece that says what a checkpoint says. */
export const pieceFrom = (checkpoint: Words, id: Id): Piece => ({ id, ...wordsIn(checkpoint) });

/** A checkpoint that is a case of a piece and says what the piece says. */
export function takenFrom(checkpoint: Checkpoint, piece: Piece): Checkpoint {
  const { tolerance: _, caution: __, ...rest } = checkpoint;
  return { ...rest, ...wordsIn(piece), piece: piece.id };
}

/** The words of its piece that a checkpoint has overwritten. */
export const overwritten = (checkpoint: Words, piece: Words): (typeof pieceWords)[number][] =>
  pieceWords.filter((word) => !same(checkpoint[word], piece[word]));

/**
 * A draft after a piece has changed from `before` to `after`: what its checkpoints have from the piece is as the piece says now,
 * and what they have overwritten stays. The same object where nothing in it has changed.
 */
export function following<D extends Draft>(draft: D, before: Piece, after: Piece): D {
  const checkpoints = draft.checkpoints.map((checkpoint) => {
    if (checkpoint.piece !== after.id) return checkpoint;
    const own = new Set(overwritten(checkpoint, before));
    const next = takenFrom(checkpoint, after);
    for (const word of own) Object.assign(next, { [word]: checkpoint[word] });
    return same(next, checkpoint) ? checkpoint : next;
  });
  return checkpoints.every((one, i) => one === draft.checkpoints[i]) ? draft : { ...draft, checkpoints };
}

/** The places of a piece in a draft. */
export const checkpointsOf = (draft: Pick<Draft, 'checkpoints'>, piece: Id): Checkpoint[] =>
  draft.checkpoints.filter((one) => one.piece === piece);
