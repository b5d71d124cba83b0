import type { Prescribed } from '@ulkret/core/session';
import { useMemo } from 'react';
import { useDecisions } from './use-reading';

/** The checkpoint that each student works on in a technique, as it is decided; empty while it is not known. */
export function usePrescribed(technique: string | undefined): readonly Prescribed[] {
  const { data } = useDecisions(technique);
  return useMemo(
    () =>
      [...(data ?? [])].flatMap(([student, one]) =>
        one.kind === 'correct' ? [{ student, checkpoint: one.checkpoint, rung: one.dose.rung }] : [],
      ),
    [data],
  );
}
