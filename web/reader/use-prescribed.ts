import type { Kit } from '@ulkret/contract';
import { defaultHalfLifeDays, everything, usualWeeks } from '@ulkret/core/reading';
import type { Prescribed } from '@ulkret/core/session';
import useSWR from 'swr';
import { keepAnswer, keptAnswer } from '../api/store';
import { useHere } from '../api/signed-in';
import { readOnce } from './use-reading';

/**
 * The checkpoint that each student works on in a technique, by the plain reading, which is made in a worker. Without a
 * network it is what this device read last; empty while it is not known.
 */
export function usePrescribed(kit: Kit | undefined, technique: string | undefined): readonly Prescribed[] {
  const { academy } = useHere();
  const breakdown = kit?.techniques.find((one) => one.technique.id === technique)?.breakdown;
  const { data } = useSWR(
    kit && breakdown ? ['prescribed', academy.id, breakdown.technique, breakdown.edition] : null,
    async (): Promise<readonly Prescribed[]> => {
      const address = `prescribed ${breakdown!.technique} ${breakdown!.edition}`;
      const reply = await readOnce({
        breakdown: breakdown!,
        mainSides: kit!.students.map(({ id, mainSide }) => [id, mainSide]),
        method: 'plain',
        slice: everything,
        period: { weeks: usualWeeks, halfLife: defaultHalfLifeDays },
      });
      if (reply.is !== 'read') {
        const kept = await keptAnswer(academy.id, address).catch(() => null);
        return (kept?.body as readonly Prescribed[] | undefined) ?? [];
      }
      const prescribed = reply.value.prescriptions.flatMap(([student, one]) =>
        one.kind === 'correct' ? [{ student, checkpoint: one.checkpoint, rung: one.dose.rung }] : [],
      );
      void keepAnswer(academy.id, address, prescribed).catch(() => undefined);
      return prescribed;
    },
    { revalidateOnFocus: false, dedupingInterval: 60_000 },
  );
  return data ?? none;
}

const none: readonly Prescribed[] = [];
