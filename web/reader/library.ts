import {
  type Beside,
  type Draft,
  type Edit,
  edited,
  type Id,
  libraryIndex,
  type RuleTag,
  type Searchable,
  type Technique,
} from '@ulkret/core/breakdown';
import { expose } from 'comlink';

/** Searches the library and criticises drafts off the page's thread, so that typing is never held up. */
class LibraryWorker {
  private index = libraryIndex([]);
  private known: ReadonlyMap<Id, Id[]> = new Map();
  private beside: Beside = {};
  private written: object = {};

  load(list: readonly Searchable[]): void {
    this.index = libraryIndex(list);
  }

  find(words: string): Id[] {
    return this.index.find(words);
  }

  /** The checkpoints and rule tags of every technique, and the drills and pieces there are, as the critique must know them. */
  know(
    list: readonly (readonly [Id, Id[]])[],
    tags: readonly (readonly [Id, readonly RuleTag[]])[],
    drills: readonly Id[] | undefined,
    pieces: readonly Id[] | undefined,
  ): void {
    this.known = new Map(list);
    const tagsOf = new Map(tags);
    this.beside = {
      ...(drills && { drills: new Set(drills) }),
      ...(pieces && { pieces: new Set(pieces) }),
      tagsOf: (id) => tagsOf.get(id) ?? [],
    };
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
    return JSON.stringify(critique(draft, technique, (id) => this.known.get(id) ?? null, this.beside));
  }
}

export type { LibraryWorker };
expose(new LibraryWorker());
