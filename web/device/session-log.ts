import { endpoints } from '@ulkret/contract';
import type { Session } from '@ulkret/core/session';
import type { Standing } from '@ulkret/core/facts';
import { useEffect, useState, useSyncExternalStore } from 'react';
import { clock } from '../api/clock';
import { onLive } from './live';
import { useOutbox } from './use-outbox';
import { useApi } from '../api/use-api';
import { useHere } from '../api/signed-in';
import { SessionStore } from './session-store';

/** A session as this device and the server know it, and the way to add to it; `useStanding` follows what is in it. */
export function useSessionLog(id: string) {
  const { academy } = useHere();
  const outbox = useOutbox();
  const [store] = useState(() => new SessionStore(academy.id, id, outbox));
  const kept = useSyncExternalStore(store.subscribe, store.session);
  // A session made here is not asked for before the server can have it.
  const server = useApi(
    endpoints.drillingSession,
    kept === null || kept?.state === 'saved' ? { params: { id } } : null,
    { refreshInterval: 0, revalidateOnFocus: true },
  );
  const { data, mutate: askAgain } = server;

  useEffect(() => {
    void store.read();
    return outbox.onCorrected(() => void store.read().then(() => askAgain()));
  }, [store, outbox, askAgain]);
  useEffect(() => {
    if (data) store.take(data.facts);
  }, [data, store, kept]);
  useEffect(
    () =>
      onLive((news) => {
        if (news === null) void askAgain();
        else if (news.session === id) store.hear(news.facts);
      }),
    [id, store, askAgain],
  );
  return {
    session: kept?.body ?? data?.session ?? null,
    store,
    add: store.add,
    error: server.error,
    retry: askAgain,
  };
}

/** An instant for a new fact: after everything that was tapped here before it. */
export const stamp = (): string => clock.stamp();

/** All entries of a session so far. */
export const useStanding = ({ store }: Pick<OpenSession, 'store'>): Standing =>
  useSyncExternalStore(store.subscribe, store.standing);

export type OpenSession = Omit<ReturnType<typeof useSessionLog>, 'session'> & { session: Session };
