import {
  critique,
  type Draft,
  type Id,
  libraryIndex,
  type Searchable,
  type Technique,
} from '@ulkret/core/breakdown';
import { expose } from 'comlink';

/** Searches the library and criticises drafts off the page's thread, so that typing is never held up. */
class LibraryWorker {
  private index = libraryIndex([]);
  private known: ReadonlyMap<Id, Id[]> = new Map();

  load(list: readonly Searchable[]): void {
    this.index = libraryIndex(list);
  }

  find(words: string): Id[] {
    return this.index.find(words);
  }

  /** The checkpoints of every technique, as the critique of another must know them. */
  know(list: readonly (readonly [Id, Id[]])[]): void {
    this.known = new Map(list);
  }

  /** JSON in, findings as JSON out: a draft is thousands of small things, and a text crosses to a worker faster than they do. */
  critique(work: string): string {
    const { draft, technique } = JSON.parse(work) as { draft: Draft; technique: Technique };
    return JSON.stringify(critique(draft, technique, (id) => this.known.get(id) ?? null));
  }
}

export type { LibraryWorker };
expose(new LibraryWorker());
