import { endpoints } from '@ulkret/contract';
import { lookTonight, termsOf } from '@ulkret/core/prescription';
import type { Prescribed, WatchedStudent } from '@ulkret/core/session';
import { useMemo } from 'react';
import { useApi } from '../api/use-api';
import { useKit } from '../device/kit';
import { useDeciding } from './use-deciding';
import { useDecided, useDecisions } from './use-reading';
import { worksOn } from './works-on';

/**
 * What each student works on in a technique: what a coach has agreed to, with what the reps so far say of it; where nothing
 * was agreed to or refused, what would be corrected first. Empty while it is not known.
 */
export function usePrescribed(technique: string | undefined): readonly Prescribed[] {
  const { data: decisions } = useDecisions(technique);
  const { data: library } = useApi(endpoints.drills);
  const { data: kit } = useKit();
  const { standing, told } = useDeciding();
  const breakdown = kit?.techniques.find((one) => one.technique.id === technique)?.breakdown;
  return useMemo(() => {
    if (technique === undefined || !breakdown) return [];
    const drills = library?.drills ?? [];
    const agreed = [...standing.values()].flatMap(({ life }): Prescribed[] =>
      life?.technique === technique
        ? [{ student: life.student, ...worksOn(breakdown, life.terms, drills, life) }]
        : [],
    );
    const known = new Set(agreed.map(({ student }) => student));
    const proposed = [...(decisions ?? [])].flatMap(([student, one]): Prescribed[] => {
      if (one.kind !== 'correct' || known.has(student)) return [];
      const refused = standing.get(`${technique} ${student}`)?.declined;
      if (refused?.checkpoint === one.checkpoint) return [];
      return [{ student, ...worksOn(breakdown, termsOf(breakdown, one), drills) }];
    });
    const busy = new Set([...agreed, ...proposed].map(({ student }) => student));
    // A student with nothing to correct may have a recheck due.
    const due = (told.data?.prescriptions ?? []).flatMap(({ life }) =>
      life.technique === technique && !busy.has(life.student) ? [life] : [],
    );
    const { tonight } = lookTonight(due, [...new Set(due.map(({ student }) => student))]);
    const rechecks = tonight.map((life) => ({
      student: life.student,
      ...worksOn(breakdown, life.terms, drills, life),
    }));
    return [...agreed, ...proposed, ...rechecks];
  }, [technique, breakdown, decisions, library, standing, told.data]);
}

/** What everybody's next reps would teach in a technique; empty while it is not known. */
export function useWatched(technique: string | undefined): readonly WatchedStudent[] {
  const { data } = useDecided(technique);
  return useMemo(
    () => (data?.decisions ?? []).flatMap(({ student, unsure }) => (unsure ? [{ ...unsure, student }] : [])),
    [data],
  );
}
