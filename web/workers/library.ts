import {
  critique,
  type Draft,
  type Finding,
  type Id,
  libraryIndex,
  type Searchable,
  type Technique,
} from '@ulkret/core/breakdown';
import { expose } from 'comlink';

/** Searches the library and criticises drafts off the page's thread, so that typing is never held up. */
class LibraryWorker {
  private index = libraryIndex([]);

  load(list: readonly Searchable[]): void {
    this.index = libraryIndex(list);
  }

  find(words: string): Id[] {
    return this.index.find(words);
  }

  critique(draft: Draft, technique: Technique, checkpoints: [Id, Id[]][]): Finding[] {
    const known = new Map(checkpoints);
    return critique(draft, technique, (id) => known.get(id) ?? null);
  }
}

export type { LibraryWorker };
expose(new LibraryWorker());
