import { useSyncExternalStore } from 'react';
import { onRecalled, recalledSince, wasAsked } from '../api/recalled';

const onNetwork = (told: () => void) => {
  // What comes next tells whether the server is there.
  window.addEventListener('online', wasAsked);
  window.addEventListener('online', told);
  window.addEventListener('offline', told);
  const stop = onRecalled(told);
  return () => {
    window.removeEventListener('online', wasAsked);
    window.removeEventListener('online', told);
    window.removeEventListener('offline', told);
    stop();
  };
};

/** Is there no network, as far as this page can know? */
export const useOffline = (): boolean =>
  useSyncExternalStore(onNetwork, () => !navigator.onLine || recalledSince() !== null);

/** The moment that what is shown is of, where the server did not answer; null where it did. */
export const useShownOf = (): number | null => useSyncExternalStore(onRecalled, recalledSince);
