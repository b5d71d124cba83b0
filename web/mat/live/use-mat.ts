import type { MatAction } from '@ulkret/core/session';
import { createContext, use, useSyncExternalStore } from 'react';
import { afterPaint } from '../../ui/after-paint';
import type { MatNow, MatStore } from './mat-store';

export const MatContext = createContext<MatStore | null>(null);

/** The Mat that this part is of. */
export function useMatStore(): MatStore {
  const store = use(MatContext);
  if (!store) throw new Error('a part of the Mat is drawn outside of it');
  return store;
}

/** What a part of the Mat shows. It is drawn again where that changes and only then: `of` answers with the same object while it is the same. */
export function useMat<T>(of: (now: MatNow) => T): T {
  const store = useMatStore();
  return useSyncExternalStore(store.subscribe, () => of(store.now()));
}

/** The same, a frame after a tap: its mark comes first. */
export function useMatLate<T>(of: (now: MatNow) => T): T {
  const store = useMatStore();
  return useSyncExternalStore(
    (told) => store.subscribe(() => void afterPaint(told)),
    () => of(store.now()),
  );
}

export const useAct = (): ((action: MatAction) => void) => useMatStore().act;
