import { numberOf } from '@ulkret/core/breakdown';
import { useCallback } from 'react';
import { useMatStore } from './use-mat';

/** The number of a checkpoint, as a coach counts: of the technique of the class, or of one that a pair went on to. */
export function useNumberOf(): (checkpoint: string, technique: string) => number {
  const store = useMatStore();
  return useCallback(
    (checkpoint, technique) => {
      const { breakdown, library } = store.knows();
      const of = technique === breakdown.technique ? breakdown : library.get(technique)?.breakdown;
      return numberOf(of ?? breakdown, checkpoint);
    },
    [store],
  );
}
