import MiniSearch from 'minisearch';

/** Something that can be gone to: what kind it is, what it is called, other words for it, and its address. */
export interface Findable {
  kind: 'page' | 'technique' | 'checkpoint' | 'student' | 'class';
  name: string;
  more: string;
  to: string;
}

/** Most that is shown of what was found. */
const most = 12;

/** Pages come before techniques and people of the same name, and those before single checkpoints. */
const weight: Readonly<Record<Findable['kind'], number>> = {
  page: 1.6,
  technique: 1.4,
  student: 1.4,
  class: 1,
  checkpoint: 0.8,
};

/** An index over all that can be gone to. `find` answers best first; a letter or two may be wrong, and a beginning is enough. */
export function findIndex(list: readonly Findable[]): { find: (words: string) => Findable[] } {
  const index = new MiniSearch<Findable & { id: number }>({
    fields: ['name', 'more'],
    searchOptions: {
      boost: { name: 3 },
      prefix: true,
      fuzzy: (term) => (term.length > 3 ? 0.25 : false),
      combineWith: 'AND',
      boostDocument: (id) => weight[list[id as number]!.kind],
    },
  });
  index.addAll(list.map((one, id) => ({ ...one, id })));
  return {
    find: (words) =>
      index
        .search(words)
        .slice(0, most)
        .map(({ id }) => list[id as number]!),
  };
}
