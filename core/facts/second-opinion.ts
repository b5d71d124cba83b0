import { placeOf } from '../breakdown';
import { SecondOpinion } from '../rep';
import { editionOf, factKind, momentOf } from './kind';

export const looks = factKind({
  is: 'look',
  name: 'A second opinion',
  says: 'how another coach saw a rep that is logged already; it never counts as a rep',
  schema: SecondOpinion,
  under: 'rep',
  people: () => [],
  renamed: (look) => look,
  tells: {
    title: 'Second opinions',
    columns: ['When', 'By', 'Stopped at'],
    row: (look, _, { coach }) => [momentOf(look), coach(look.observer), look.stop ?? 'finished'],
  },
  faultOf(look, known) {
    const rep = known.repOf.get(look.rep);
    if (rep?.observer === look.observer) return 'observer: a second opinion is another coach’s';
    const edition = editionOf(known, rep);
    return edition && look.stop !== null && placeOf(edition, look.stop) < 0
      ? `stop: edition ${edition.edition} of ${edition.technique} has no checkpoint "${look.stop}"`
      : null;
  },
});
