import { endpoints } from '@ulkret/contract';
import { type Facts, mergeFacts, noFacts, standing } from '@ulkret/core/rep';
import { useCallback, useEffect, useMemo, useReducer, useState } from 'react';
import { type Entry, type KeptSession, keptFacts, keptSession } from '../offline/device';
import { useOutbox } from '../offline/use-outbox';
import { useApi } from '../shell/api';
import { useHere } from '../shell/signed-in';

const asFacts = (entry: Entry): Facts => ({
  ...noFacts,
  ...(entry.is === 'rep' && { reps: [entry.fact] }),
  ...(entry.is === 'void' && { voids: [entry.fact] }),
  ...(entry.is === 'tag' && { tags: [entry.fact] }),
});

/**
 * A session as this device and the server know it, merged by union, and the way to add to it: on the screen at once,
 * on the device in the same breath, to the server when there is one.
 */
export function useSessionLog(id: string) {
  const { academy } = useHere();
  const outbox = useOutbox();
  const [facts, merge] = useReducer(mergeFacts, noFacts);
  /** Undefined until this device has looked. */
  const [kept, setKept] = useState<KeptSession | null | undefined>(undefined);
  const [lost, setLost] = useState<string | null>(null);
  // A session made here is not asked for before the server can have it.
  const server = useApi(
    endpoints.drillingSession,
    kept === null || kept?.state === 'saved' ? { params: { id } } : null,
    { refreshInterval: 0, revalidateOnFocus: true },
  );

  useEffect(() => {
    void keptFacts(academy.id, id).then(merge);
    void keptSession(academy.id, id).then(setKept);
  }, [academy.id, id]);
  useEffect(() => {
    if (server.data) merge(server.data.facts);
  }, [server.data]);

  const add = useCallback(
    (entry: Entry): void => {
      merge(asFacts(entry));
      outbox
        .record(id, entry)
        .catch(() =>
          setLost(
            'This device could not keep the last entry: its storage is full or closed. Note it on paper.',
          ),
        );
    },
    [outbox, id],
  );
  const reps = useMemo(() => standing(facts), [facts]);
  return {
    session: kept?.session ?? server.data?.session ?? null,
    error: server.error,
    retry: server.mutate,
    reps,
    add,
    lost,
  };
}
