import { endpoints } from '@ulkret/contract';
import { type Session, type SessionFacts, SessionLog, type Standing } from '@ulkret/core/session';
import { useEffect, useState, useSyncExternalStore } from 'react';
import { clock } from '../offline/clock';
import { type Entry, keptFacts, keptSession } from '../offline/device';
import { onLive } from '../offline/live';
import type { Outbox } from '../offline/outbox';
import { useOutbox } from '../offline/use-outbox';
import { useApi } from '../shell/api';
import { useHere } from '../shell/signed-in';

/** One session on this device: what was entered here and what came from others, merged by union, as React can follow it. */
class SessionStore {
  private log = new SessionLog();
  /** Undefined until this device has looked. */
  private kept: { body: Session; state: string } | null | undefined = undefined;
  private readonly listeners = new Set<() => void>();

  constructor(
    private readonly academy: string,
    private readonly id: string,
    private readonly outbox: Outbox,
  ) {}

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
  readonly standing = () => this.log.standing();
  readonly session = () => this.kept;

  /** Reads what the device has; anew where instants that waited were put right. */
  readonly read = async (): Promise<void> => {
    const log = new SessionLog();
    try {
      const [facts, kept] = [
        await keptFacts(this.academy, this.id),
        await keptSession(this.academy, this.id),
      ];
      log.add(facts);
      this.kept = kept;
    } catch {
      // A device whose store cannot be opened still shows what the server and this page know.
      this.kept = null;
      this.tell();
      return;
    }
    this.log = log;
    this.tell();
  };

  /** Takes facts from wherever they come. */
  readonly take = (facts: Partial<SessionFacts>): void => {
    if (this.log.add(facts)) this.tell();
  };

  /** Enters something here: on the screen at once, on the device in the same breath, to the server when there is one. */
  readonly add = (entry: Entry): void => {
    const list = { [entry.is]: [entry.fact] } as Partial<SessionFacts>;
    this.take(list);
    void this.outbox.record(this.id, entry);
  };

  private tell(): void {
    for (const listener of this.listeners) listener();
  }
}

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
        else if (news.session === id) store.take(news.facts);
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

/** What was entered in a session so far. */
export const useStanding = ({ store }: Pick<SessionWork, 'store'>): Standing =>
  useSyncExternalStore(store.subscribe, store.standing);

export type SessionWork = Omit<ReturnType<typeof useSessionLog>, 'session'> & { session: Session };
