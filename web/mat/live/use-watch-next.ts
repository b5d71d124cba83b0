import { type WatchedStudent, watchNext } from '@ulkret/core/session';
import { useEffect, useState } from 'react';
import { useMatLate, useMatStore } from './use-mat';

/** It is looked for when the taps have paused: no tap waits for it, and the mark does not jump while one logs. */
const afterMs = 600;

/** Whose next rep would teach most, of those whose turn it is; null where nothing is open. */
export function useWatchNext(): WatchedStudent | null {
  const store = useMatStore();
  const views = useMatLate((now) => now.views);
  const [next, setNext] = useState<WatchedStudent | null>(null);
  useEffect(() => {
    const { watched } = store.work.session;
    if (watched.length === 0) return;
    const timer = setTimeout(() => {
      const { log, common } = store.now();
      // Students who may not go on are not watched.
      const turns = views
        .filter(({ stopped, permit }) => !stopped && permit.verdict !== 'not allowed')
        .map(({ turn }) => turn.student);
      setNext(watchNext(common.breakdown, watched, turns, (student) => log.of(student)));
    }, afterMs);
    return () => clearTimeout(timer);
  }, [store, views]);
  return next;
}
