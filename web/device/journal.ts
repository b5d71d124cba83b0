import type { Entry } from '@ulkret/core/facts';
import type { KeptFact } from '../api/store';

/** An entry on its way into the device's store. */
export interface Journaled {
  session: string;
  entry: Entry;
  clock: KeptFact['clock'];
}

const head = 'ulkret-tap ';

/**
 * Notes an entry before the screen answers. The device's store takes some milliseconds to have it for good, and a tab can
 * be closed in them; this is there at once. A browser that has no such storage goes without.
 */
export function journal(academy: string, one: Journaled): void {
  try {
    localStorage.setItem(`${head}${academy} ${one.entry.fact.id}`, JSON.stringify(one));
  } catch {
    // Full: the store itself will tell.
  }
}

/** The store has it. */
export function unjournal(academy: string, id: string): void {
  try {
    localStorage.removeItem(`${head}${academy} ${id}`);
  } catch {
    // Nothing was noted.
  }
}

/** What a tab that was closed had noted and the store may not have, in the order in which it was made. */
export function journaled(academy: string): Journaled[] {
  try {
    return Object.keys(localStorage)
      .filter((key) => key.startsWith(`${head}${academy} `))
      .map((key) => JSON.parse(localStorage.getItem(key)!) as Journaled)
      .sort((a, b) => (a.entry.fact.at < b.entry.fact.at ? -1 : 1));
  } catch {
    return [];
  }
}
