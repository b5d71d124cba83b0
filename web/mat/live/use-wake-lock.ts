import { useEffect } from 'react';

/** Keeps the screen on while something runs, and again after the page was hidden. A device that cannot goes without. */
export function useWakeLock(wanted: boolean): void {
  useEffect(() => {
    if (!wanted || !('wakeLock' in navigator)) return;
    let lock: WakeLockSentinel | null = null;
    let over = false;
    const ask = async () => {
      if (document.visibilityState !== 'visible') return;
      try {
        const given = await navigator.wakeLock.request('screen');
        if (over) void given.release();
        else lock = given;
      } catch {
        // Refused, as when the battery is low: the round goes on without.
      }
    };
    const again = () => void ask();
    void ask();
    document.addEventListener('visibilitychange', again);
    return () => {
      over = true;
      document.removeEventListener('visibilitychange', again);
      void lock?.release();
    };
  }, [wanted]);
}
