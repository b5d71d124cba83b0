import { endpoints } from '@ulkret/contract';
import { signOff, type Terms, termsOf } from '@ulkret/core/prescription';
import type { Prescribed } from '@ulkret/core/session';
import { useMemo } from 'react';
import { useApi } from '../api/use-api';
import { useKit } from '../device/kit';
import { useDeciding } from './use-deciding';
import { useDecisions } from './use-reading';

/**
 * What each student works on in a technique: what a coach has agreed to, with what the reps so far say of it; where nothing
 * was agreed to or refused, what would be corrected first. Empty while it is not known.
 */
export function usePrescribed(technique: string | undefined): readonly Prescribed[] {
  const { data: decisions } = useDecisions(technique);
  const { data: library } = useApi(endpoints.drills);
  const { data: kit } = useKit();
  const { standing } = useDeciding();
  const breakdown = kit?.techniques.find((one) => one.technique.id === technique)?.breakdown;
  return useMemo(() => {
    if (technique === undefined) return [];
    const drillOf = (id: string | null) => {
      const drill = library?.drills.find((one) => one.id === id);
      return drill ? { title: drill.title, setUp: drill.setUp, task: drill.task } : null;
    };
    const prescribedBy = (student: string, terms: Terms, held: boolean[]): Prescribed => {
      const { checkpoint, rung, cue, drill, startAt } = terms;
      return { student, checkpoint, rung, cue, drill: drillOf(drill), startAt, held };
    };
    const agreed = [...standing.values()].flatMap(({ life }): Prescribed[] => {
      if (!life || life.technique !== technique) return [];
      // A test that has decided begins anew: it is for the coach to agree to something else.
      const held = signOff(life.held).state === 'open' ? life.held : [];
      return [prescribedBy(life.student, life.terms, held)];
    });
    const known = new Set(agreed.map(({ student }) => student));
    const proposed = [...(decisions ?? [])].flatMap(([student, one]): Prescribed[] => {
      if (one.kind !== 'correct' || known.has(student)) return [];
      const refused = standing.get(`${technique} ${student}`)?.declined;
      if (refused?.checkpoint === one.checkpoint) return [];
      return breakdown ? [prescribedBy(student, termsOf(breakdown, one), [])] : [];
    });
    return [...agreed, ...proposed];
  }, [technique, breakdown, decisions, library, standing]);
}
