import { placeOf } from '../breakdown';
import { SecondOpinion } from '../rep';
import { editionOf, factKind } from './kind';

export const looks = factKind({
  is: 'look',
  name: 'A second look',
  says: 'how another coach saw a rep that is logged already; it never counts as a rep',
  schema: SecondOpinion,
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
