import { createContext, useContext, useSyncExternalStore } from 'react';
import type { Outbox } from './outbox';
import type { SyncState } from './sync-state';

export const OutboxContext = createContext<Outbox | null>(null);

export function useOutbox(): Outbox {
  const outbox = useContext(OutboxContext);
  if (!outbox) throw new Error('useOutbox is for pages behind the sign-in');
  return outbox;
}

export function useSyncState(): SyncState {
  const outbox = useOutbox();
  return useSyncExternalStore(outbox.subscribe, outbox.current);
}

/** How many entries the device could not store; readers of this number are not disturbed by the rest. */
export function useUnkept(): number {
  const outbox = useOutbox();
  return useSyncExternalStore(outbox.subscribe, () => outbox.current().unkept);
}
