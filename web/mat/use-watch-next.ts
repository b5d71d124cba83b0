import type { Breakdown } from '@ulkret/core/breakdown';
import { type Session, type Watched, watchNext } from '@ulkret/core/session';
import { useEffect, useState } from 'react';
import type { Common, PairView } from './pair-view';

/** It is looked for when the taps have paused: no tap waits for it, and the mark does not jump while one logs. */
const afterMs = 600;

/** Whose next rep would teach most, of those whose turn it is; null where nothing is open. */
export function useWatchNext(
  { watched }: Session,
  breakdown: Breakdown,
  views: readonly PairView[],
  log: Common['log'],
): Watched | null {
  const [next, setNext] = useState<Watched | null>(null);
  useEffect(() => {
    if (watched.length === 0) return;
    const timer = setTimeout(() => {
      // Whoever may not go on is not to be watched.
      const turns = views
        .filter(({ stopped, permit }) => !stopped && permit.verdict !== 'not allowed')
        .map(({ turn }) => turn.student);
      setNext(watchNext(breakdown, watched, turns, (student) => log.of(student)));
    }, afterMs);
    return () => clearTimeout(timer);
  }, [watched, breakdown, views, log]);
  return next;
}
