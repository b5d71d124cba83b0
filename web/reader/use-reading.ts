import type { Breakdown } from '@ulkret/core/breakdown';
import type { Student } from '@ulkret/core/people';
import { proxy, type Remote, wrap } from 'comlink';
import { useEffect, useState } from 'react';
import useSWR, { mutate } from 'swr';
import { onLive } from '../device/live';
import { onNewFacts } from '../device/new-facts';
import { ApiRefusal } from '../api/ask';
import type { Answer, Order, Reader, Reply } from './reader';

let shared: Remote<Reader> | undefined;
/** One reader for all pages, started when the first of them needs it. */
const reader = (): Remote<Reader> =>
  (shared ??= wrap<Reader>(new Worker(new URL('./reader.ts', import.meta.url), { type: 'module' })));

/** Reads once, in the worker that all pages share. */
export const readOnce = (order: Order): Promise<Reply<Answer>> =>
  reader().read(
    order,
    proxy(() => undefined),
  );

/** A fit that was stopped before its end. */
export class Cancelled extends Error {}

/** Reps may have come from anywhere; a page that is looked at asks again this often. */
const refreshMs = 60_000;
const gatherMs = 3000;
const keyHead = 'reading';

/** Reads again what the pages show, from tallies as they are now. */
async function readAgain(): Promise<void> {
  await reader().forget();
  await mutate((key) => Array.isArray(key) && key[0] === keyHead);
}

/** Keeps the readings on a page up to date with the reps that come in. */
export function useFreshReadings(): void {
  useEffect(() => {
    const again = () => void readAgain();
    const stop = onNewFacts(again);
    // A class at full tilt sends several a second: they are read together.
    let soon: ReturnType<typeof setTimeout> | undefined;
    const leave = onLive(() => (soon ??= setTimeout(() => ((soon = undefined), again()), gatherMs)));
    const visible = () => document.visibilityState === 'visible' && again();
    const timer = setInterval(visible, refreshMs);
    document.addEventListener('visibilitychange', visible);
    return () => {
      stop();
      leave();
      clearTimeout(soon);
      clearInterval(timer);
      document.removeEventListener('visibilitychange', visible);
    };
  }, []);
}

/** Reads in the worker; null reads nothing. `progress` is the share of the fit that is done, null where none is being made. */
export function useReading(
  breakdown: Breakdown | undefined,
  students: readonly Student[] | undefined,
  asked: Pick<Order, 'method' | 'slice' | 'period'> | null,
) {
  const [progress, setProgress] = useState<number | null>(null);
  const ready = breakdown && students && asked;
  const read = useSWR<Answer, ApiRefusal | Cancelled>(
    ready && [keyHead, breakdown.technique, breakdown.edition, JSON.stringify(asked)],
    async () => {
      const order: Order = {
        ...asked!,
        breakdown: breakdown!,
        mainSides: students!.map(({ id, mainSide }) => [id, mainSide]),
      };
      try {
        const reply = await reader().read(order, proxy(setProgress));
        if (reply.is === 'read') return reply.value;
        throw reply.is === 'cancelled'
          ? new Cancelled('The full reading was stopped.')
          : new ApiRefusal(reply.status, reply.message, reply.todo);
      } finally {
        setProgress(null);
      }
    },
    { keepPreviousData: true, revalidateOnFocus: false, shouldRetryOnError: false },
  );
  return { ...read, progress, cancel: () => void reader().cancel() };
}
export type ReadingState = ReturnType<typeof useReading>;
