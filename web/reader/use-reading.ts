import { endpoints } from '@ulkret/contract';
import { decidedBy, type Prescription } from '@ulkret/core/prescription';
import { type Remote, wrap } from 'comlink';
import { useEffect, useMemo, useState } from 'react';
import useSWR, { mutate } from 'swr';
import { ApiRefusal } from '../api/ask';
import { useHere } from '../api/signed-in';
import { askOrRecall } from '../api/recall';
import { useApi } from '../api/use-api';
import { onLive } from '../device/live';
import { onNewFacts } from '../device/new-facts';
import { type ReadingAnswer, type Order, type RatesAnswer, ratesOf } from './asking';
import type { Reader } from './reader';
import { readerWorker } from './worker';

let shared: Remote<Reader> | undefined;
/** One reader for all pages. */
const reader = (): Remote<Reader> => (shared ??= wrap<Reader>(readerWorker()));

/** Reps may have come from anywhere; a page that is looked at asks again this often. */
const refreshMs = 60_000;
/**
 * A class at full tilt sends several reps a second: they are read together, and where reading takes long there is a rest
 * after it, but nobody waits longer than this for what has come.
 */
const gatherMs = 3000;
const restFor = 20;
const longestRestMs = 8000;
const keyHead = 'reading';
const asked = [endpoints.decisions.path, endpoints.rates.path, endpoints.prescriptions.path];

/** Reads again what the pages show, from the reps as they are now. */
const readAgain = () =>
  mutate((key) =>
    Array.isArray(key)
      ? key[0] === keyHead
      : typeof key === 'string' && asked.some((path) => key.startsWith(path)),
  );

/**
 * Keeps the readings and decisions on a page up to date with the reps that come in: with each few of them as other devices
 * send them (`live`), or else when somebody looks, and every minute. To follow the stream costs the server a look at every rep.
 */
export function useFreshReadings(live = true): void {
  useEffect(() => {
    let spentMs = 0;
    const again = () => {
      const began = performance.now();
      void readAgain().finally(() => (spentMs = performance.now() - began));
    };
    let soon: ReturnType<typeof setTimeout> | undefined;
    const gather = () =>
      (soon ??= setTimeout(
        () => ((soon = undefined), again()),
        Math.min(longestRestMs, Math.max(gatherMs, restFor * spentMs)),
      ));
    const stop = onNewFacts(gather);
    const leave = live ? onLive(gather) : () => undefined;
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
  }, [live]);
}

/** What is decided of everybody on a technique; from this device where there is no network. */
export function useDecided(technique: string | undefined) {
  const answer = useApi(endpoints.decisions, technique === undefined ? null : { query: { technique } }, {
    revalidateOnFocus: false,
  });
  // An answer about another technique is nobody's correction here: it is dropped.
  return { ...answer, data: answer.data?.technique === technique ? answer.data : undefined };
}

/** What to correct first for everybody on a technique. */
export function useDecisions(technique: string | undefined) {
  const { data, ...rest } = useDecided(technique);
  const of = useMemo(
    () =>
      data &&
      new Map(
        data.decisions.map(({ student, prescription }): [string, Prescription] => [student, prescription]),
      ),
    [data],
  );
  return { ...rest, data: of };
}

/** What to correct first for one student on each of several techniques. */
export function useDecidedOn(techniques: readonly string[], student: string) {
  const { academy } = useHere();
  const { data } = useSWR(
    techniques.length > 0 ? [keyHead, 'decided', student, techniques.join(' ')] : null,
    async () => {
      const each = await Promise.all(
        techniques.map(async (technique) => {
          const { decisions } = await askOrRecall(academy.id, endpoints.decisions, { query: { technique } });
          return [technique, decisions.find((one) => one.student === student)?.prescription] as const;
        }),
      );
      return new Map(each);
    },
    { revalidateOnFocus: false, shouldRetryOnError: false },
  );
  return data;
}

/** The reading that decisions are made from. */
export const decidedReads: Reads = {
  method: decidedBy.method,
  slice: decidedBy.slice,
  period: { weeks: decidedBy.weeks, halfLife: decidedBy.halfLifeDays },
};

/** One student's rates that the decision is made from: so little that the page asks itself, without the reader. */
export const useOwnRates = (technique: string, student: string) => {
  const { method, period } = decidedReads;
  const query = { technique, student, method, ...period };
  const { data } = useApi(endpoints.rates, { query }, { revalidateOnFocus: false });
  return data?.students[0];
};

/** A page's request for a reading: the method and the reps. */
export type Reads = Pick<Order, 'method' | 'slice' | 'period'> & Partial<Pick<Order, 'of'>>;

/** What can be asked, by the name of its method. */
interface ReadingKinds {
  readings: ReadingAnswer;
  rates: RatesAnswer;
}

const tell: { [K in keyof ReadingKinds]: (order: Order) => Promise<ReadingKinds[K]> } = {
  readings: async (order) => {
    const reply = await reader().readings(order);
    if (reply.is === 'read') return reply.value;
    throw new ApiRefusal(reply.status, reply.message, reply.todo);
  },
  // So few numbers that they are checked before a thread of their own would be up: the page asks itself.
  rates: ratesOf,
};

function useAnswer<K extends keyof ReadingKinds>(
  what: K,
  technique: string | undefined,
  reads: Reads | null,
  now: boolean,
) {
  const { academy } = useHere();
  return useSWR<ReadingKinds[K], ApiRefusal>(
    technique !== undefined && reads ? [keyHead, what, technique, now, JSON.stringify(reads)] : null,
    () => tell[what]({ of: 'everybody', ...reads!, now, technique: technique!, academy: academy.id }),
    { revalidateOnFocus: false, shouldRetryOnError: false },
  );
}

/**
 * Asks of a technique; null asks nothing. What can be told at once comes first; where that is the plain numbers and the full
 * reading was asked for, it takes their place as soon as it is there, and until then `refining` says that it is on its way.
 */
function useTold<K extends keyof ReadingKinds>(what: K, technique: string | undefined, reads: Reads | null) {
  const first = useAnswer(what, technique, reads, true);
  const isThere = (one: typeof first) => one.data !== undefined && !one.isLoading;
  const short = isThere(first) && reads?.method === 'full' && first.data!.settings.method === 'plain';
  const full = useAnswer(what, technique, short ? reads : null, false);
  const refined = short && isThere(full);
  const now = refined ? full.data : isThere(first) ? first.data : undefined;
  // The old answer stays until the new question has one.
  const [before, setBefore] = useState(now);
  if (now && now !== before) setBefore(now);
  return {
    data: now ?? (before?.reading.technique === technique ? before : undefined),
    error: full.error ?? first.error,
    isLoading: first.isLoading,
    refining: short && !refined && !full.error,
    mutate: () => void Promise.all([first.mutate(), short && full.mutate()]),
  };
}

/** Readings of everybody on a technique: why reps end, and all that is known of each checkpoint. */
export const useReading = (technique: string | undefined, reads: Reads | null) =>
  useTold('readings', technique, reads);

/** Everybody's rates on a technique, without what they are made of. */
export const useRates = (technique: string | undefined, reads: Reads | null) =>
  useTold('rates', technique, reads);

/** Rates of the squad, or also of one student, on several techniques: all told together, so that nothing moves as they come. */
export function useRoom(techniques: readonly string[], reads: Reads, student?: string) {
  const { academy } = useHere();
  const ask = (now: boolean) =>
    Promise.all(
      techniques.map(async (technique) => {
        const whose =
          student === undefined ? { of: 'squad' as const } : { of: 'everybody' as const, student };
        const order: Order = { ...reads, ...whose, now, technique, academy: academy.id };
        return [technique, await ratesOf(order)] as const;
      }),
    ).then((all) => new Map(all));
  const key =
    techniques.length > 0 ? [keyHead, 'room', techniques.join(' '), student, JSON.stringify(reads)] : null;
  const options = { revalidateOnFocus: false, shouldRetryOnError: false };
  const first = useSWR<ReadonlyMap<string, RatesAnswer>, ApiRefusal>(key, () => ask(true), options);
  const short =
    reads.method === 'full' &&
    [...(first.data?.values() ?? [])].some(({ settings }) => settings.method === 'plain');
  const full = useSWR<ReadonlyMap<string, RatesAnswer>, ApiRefusal>(
    key && short ? [...key, 'full'] : null,
    () => ask(false),
    options,
  );
  const told = full.data ?? first.data;
  const settings = told?.values().next().value?.settings;
  return {
    data: told && settings && { techniques: told, settings },
    error: full.error ?? first.error,
    isLoading: first.isLoading,
    refining: short && !full.data && !full.error,
    mutate: () => void Promise.all([first.mutate(), short && full.mutate()]),
  };
}

/** Asks for the readings behind the rates, when somebody wants to take them along. */
export function useWhole(technique: string, reads: Reads): () => Promise<ReadingAnswer> {
  const { academy } = useHere();
  return () => tell.readings({ of: 'everybody', ...reads, now: false, technique, academy: academy.id });
}

/** The words, and whether they are final. */
export interface ReadingState<T = ReadingAnswer> {
  data: T | undefined;
  error: ApiRefusal | undefined;
  isLoading: boolean;
  refining: boolean;
  mutate: () => void;
}
