import {
  checkpointsOf,
  type Draft,
  following,
  type Id,
  overwritten,
  type Piece,
  same,
  shippedPieces,
  withAnswerIds,
} from '@ulkret/core/breakdown';
import type { ListedPiece } from '@ulkret/contract';
import { and, eq } from 'drizzle-orm';
import type { Db } from '../db/connect';
import { drafts, pieces } from '../db/schema';
import { discardDraft, draftOf, saveDraft } from './drafts';
import { overShipped } from './shipped';
import { latestEditions, technique } from './techniques';

const at = (academyId: Id, id: Id) => and(eq(pieces.academyId, academyId), eq(pieces.id, id));

/** The pieces of an academy, by their titles. */
export async function piecesOf(db: Db, academyId: Id): Promise<Piece[]> {
  const own = await db.select().from(pieces).where(eq(pieces.academyId, academyId));
  return overShipped(
    own.map(({ piece }) => piece),
    shippedPieces,
  );
}

/** What is written of each technique at the latest: the draft where there is one, else the latest edition. */
async function latestWords(db: Db, academyId: Id): Promise<Map<Id, Draft>> {
  const words = new Map<Id, Draft>(await latestEditions(db, academyId));
  for (const { techniqueId, draft } of await db.select().from(drafts).where(eq(drafts.academyId, academyId)))
    words.set(techniqueId, draft);
  return words;
}

/** The pieces of an academy, each with the checkpoints that are it, and what those have overwritten. */
export async function listedPieces(db: Db, academyId: Id): Promise<ListedPiece[]> {
  const words = await latestWords(db, academyId);
  return (await piecesOf(db, academyId)).map((piece) => ({
    ...piece,
    occurs: [...words].flatMap(([id, draft]) =>
      checkpointsOf(draft, piece.id).map((checkpoint) => ({
        technique: id,
        checkpoint: checkpoint.id,
        overwrites: overwritten(checkpoint, piece),
      })),
    ),
  }));
}

/** Keeps a piece that is there nowhere yet, as a file brings it. */
export async function addPiece(db: Db, academyId: Id, piece: Piece): Promise<void> {
  await db.insert(pieces).values({ academyId, id: piece.id, piece });
}

/**
 * Adds or changes a piece. The drafts of techniques that use it follow, and are created if missing: published editions
 * never change on their own. Returns which.
 */
export const savePiece = (
  db: Db,
  academyId: Id,
  piece: Piece,
  by: string,
): Promise<{ piece: Piece; drafts: Id[] }> =>
  db.transaction(async (tx) => {
    const [row] = await tx.select().from(pieces).where(at(academyId, piece.id)).for('update');
    const before = row?.piece ?? shippedPieces.find(({ id }) => id === piece.id);
    await tx
      .insert(pieces)
      .values({ academyId, id: piece.id, piece })
      .onConflictDoUpdate({ target: [pieces.academyId, pieces.id], set: { piece } });
    const followed: Id[] = [];
    const latest = await latestEditions(tx, academyId);
    if (before)
      for (const [id, words] of await latestWords(tx, academyId)) {
        const draft = following(withAnswerIds(words), before, piece);
        if (draft.checkpoints.every((one, i) => one === words.checkpoints[i])) continue;
        const saved = await draftOf(tx, academyId, id);
        const published = latest.get(id);
        const known = (await technique(tx, academyId, id))!.technique;
        const one = saved?.technique ?? known;
        // Back at the words of before it says what is published: then there is nothing to be published.
        if (published && same(withAnswerIds(published), draft) && same(known, one))
          await discardDraft(tx, academyId, id);
        else {
          await saveDraft(tx, academyId, { technique: one, draft, revision: saved?.revision ?? 0 }, by);
          followed.push(id);
        }
      }
    return { piece, drafts: followed };
  });

/** The techniques that keep a piece from being taken away: whose words of the latest have it. */
export const techniquesWith = async (db: Db, academyId: Id, piece: Id): Promise<Id[]> =>
  [...(await latestWords(db, academyId))]
    .filter(([, words]) => checkpointsOf(words, piece).length > 0)
    .map(([id]) => id);

/** Takes a piece away; false where there is none. What has its words keeps them, and what ships is as it ships again. */
export async function removePiece(db: Db, academyId: Id, id: Id): Promise<boolean> {
  const gone = await db.delete(pieces).where(at(academyId, id)).returning({ id: pieces.id });
  return gone.length > 0;
}
