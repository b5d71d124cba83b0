import { z } from 'zod';
import { Id } from '../breakdown';
import { causeFault, FactId, Instant } from '../rep';
import { editionOf, factKind, momentOf } from './kind';

/**
 * Says afterwards why a rep stopped; the latest tag of a rep counts. Where the breakdown has no such cause, or nobody saw
 * it, the words say so in its place. Neither a cause nor words take an earlier tag back.
 */
export const CauseTag = z.object({
  id: FactId,
  rep: FactId,
  cause: Id.nullable(),
  words: z.string().trim().min(1).max(200).nullable().default(null),
  at: Instant,
  observer: Id,
});
export type CauseTag = z.infer<typeof CauseTag>;

/** A coach's cause for a stop that came without one. */
export const notSeen = 'not seen';

export const tags = factKind({
  is: 'tag',
  name: 'A cause',
  says: 'why a rep stopped, said afterwards; the latest one of a rep counts',
  schema: CauseTag,
  under: 'rep',
  people: () => [],
  renamed: (tag) => tag,
  erased: (tag) => ({ ...tag, words: null }),
  tells: {
    title: 'Causes of stops',
    columns: ['When', 'By', 'Cause', 'Words'],
    row: (tag, _, { coach }) => [momentOf(tag), coach(tag.observer), tag.cause, tag.words],
  },
  recounts: true,
  faultOf(tag, known) {
    const rep = known.repOf.get(tag.rep);
    // A tag may arrive before its rep; then its cause is looked at when the reps are read.
    if (rep && rep.outcome !== 'stopped') return 'rep: only a stopped rep has a cause';
    const edition = editionOf(known, rep);
    return edition && rep && tag.cause !== null ? causeFault(edition, tag.cause, rep.stop) : null;
  },
});
