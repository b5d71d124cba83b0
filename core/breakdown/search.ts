import MiniSearch from 'minisearch';
import type { Draft } from './breakdown';
import type { Id } from './ids';
import type { Technique } from './technique';

/** What is searched of one technique: names, place, and the words of its checkpoints. */
export interface Searchable {
  id: Id;
  name: string;
  aliases: string;
  place: string;
  checkpoints: string;
}

export const searchableOf = (
  { id, name, aliases, startPosition, mechanism, regions, ruleTags }: Technique,
  { checkpoints }: Pick<Draft, 'checkpoints'>,
): Searchable => ({
  id,
  name,
  aliases: aliases.join(' '),
  place: [startPosition, mechanism, ...regions, ...ruleTags].join(' '),
  checkpoints: checkpoints
    .map(({ title, criterion, variants }) =>
      [title, criterion, ...variants.flatMap(({ name, criterion: way = '' }) => [name, way])].join(' '),
    )
    .join(' ')
    .replace(/[{}]/g, ''),
});

/** An index over a library. `find` answers with the ids, best first; a letter or two may be wrong, and a beginning is enough. */
export function libraryIndex(list: readonly Searchable[]): { find: (words: string) => Id[] } {
  const index = new MiniSearch<Searchable>({
    fields: ['name', 'aliases', 'place', 'checkpoints'],
    searchOptions: {
      boost: { name: 4, aliases: 3, place: 2 },
      prefix: true,
      fuzzy: (term) => (term.length > 3 ? 0.25 : false),
      combineWith: 'AND',
    },
  });
  index.addAll(list);
  return { find: (words) => index.search(words).map(({ id }) => id as Id) };
}
