import { endpoints } from '@ulkret/contract';
import { signOff } from '@ulkret/core/prescription';
import type { Prescribed } from '@ulkret/core/session';
import { useMemo } from 'react';
import { useApi } from '../api/use-api';
import { useDeciding } from './use-deciding';
import { useDecisions } from './use-reading';

/**
 * What each student works on in a technique: what a coach has agreed to, with what the reps so far say of it; where nothing
 * was agreed to or refused, what would be corrected first. Empty while it is not known.
 */
export function usePrescribed(technique: string | undefined): readonly Prescribed[] {
  const { data: decisions } = useDecisions(technique);
  const { data: library } = useApi(endpoints.drills);
  const { standing } = useDeciding();
  return useMemo(() => {
    if (technique === undefined) return [];
    const drillOf = (id: string | null) => {
      const drill = library?.drills.find((one) => one.id === id);
      return drill ? { title: drill.title, setUp: drill.setUp, task: drill.task } : null;
    };
    const agreed = [...standing.values()].flatMap(({ life }): Prescribed[] => {
      if (!life || life.technique !== technique) return [];
      const { checkpoint, rung, cue, drill, startAt } = life.terms;
      // A test that has decided begins anew: it is for the coach to agree to something else.
      const held = signOff(life.held).state === 'open' ? life.held : [];
      return [{ student: life.student, checkpoint, rung, cue, drill: drillOf(drill), startAt, held }];
    });
    const known = new Set(agreed.map(({ student }) => student));
    const proposed = [...(decisions ?? [])].flatMap(([student, one]): Prescribed[] => {
      if (one.kind !== 'correct' || known.has(student)) return [];
      const refused = standing.get(`${technique} ${student}`)?.declined;
      if (refused?.checkpoint === one.checkpoint) return [];
      const { rung, startAt } = one.dose;
      return [
        { student, checkpoint: one.checkpoint, rung, cue: '', drill: drillOf(one.drill), startAt, held: [] },
      ];
    });
    return [...agreed, ...proposed];
  }, [technique, decisions, library, standing]);
}
