import { readFor } from '@ulkret/core/breakdown';
import type { Rep } from '@ulkret/core/rep';
import { useCallback } from 'react';
import { useMatStore } from './use-mat';

/** The cause of a stop as a title; null if untagged. */
export function useCauseOf(): (rep: Rep) => string | null {
  const store = useMatStore();
  return useCallback(
    ({ technique, cause, side, id }: Rep) => {
      const { breakdown, library } = store.knows();
      const of = technique === breakdown.technique ? breakdown : library.get(technique)?.breakdown;
      const known = of && [...of.mistakes, ...of.defences].find((one) => one.id === cause);
      return known ? readFor(known.title, side) : store.now().log.wordsOf(id);
    },
    [store],
  );
}
