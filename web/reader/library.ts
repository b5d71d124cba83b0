import {
  type Draft,
  type Edit,
  edited,
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
  private written: object = {};

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

  /**
   * Findings as JSON, of what is written once these edits are made in it: the page sends what is new to the worker's copy,
   * and a text comes back, since many small things cross more slowly.
   */
  async critique(edits: readonly Edit[]): Promise<string> {
    this.written = edited(this.written, edits);
    // It brings a language library along: a search does not wait for that.
    const { critique } = await import('@ulkret/core/breakdown/critique');
    const { draft, technique } = this.written as { draft: Draft; technique: Technique };
    return JSON.stringify(critique(draft, technique, (id) => this.known.get(id) ?? null));
  }
}

export type { LibraryWorker };
expose(new LibraryWorker());
