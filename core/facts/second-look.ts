import { z } from 'zod';
import { Id, placeOf } from '../breakdown';
import { FactId, Instant } from '../rep';
import { editionOf, factKind } from './kind';

/**
 * How another observer saw a rep that is logged already, live or on a clip: where it stopped, or null for a finish. It
 * tells how well two people agree on a checkpoint; it never counts as a rep.
 */
export const SecondLook = z.object({
  id: FactId,
  rep: FactId,
  stop: Id.nullable(),
  at: Instant,
  observer: Id,
});
export type SecondLook = z.infer<typeof SecondLook>;

export const looks = factKind({
  is: 'look',
  name: 'A second look',
  says: 'how another coach saw a rep that is logged already; it never counts as a rep',
  schema: SecondLook,
  under: 'rep',
  faultOf(look, known) {
    const rep = known.repOf.get(look.rep);
    if (rep?.observer === look.observer) return 'observer: a second look is somebody else’s';
    const edition = editionOf(known, rep);
    return edition && look.stop !== null && placeOf(edition, look.stop) < 0
      ? `stop: edition ${edition.edition} of ${edition.technique} has no checkpoint "${look.stop}"`
      : null;
  },
});
