import { clockAt } from '@ulkret/core/session';
import { useEffect } from 'react';
import { clock } from '../../api/clock';
import { useMat, useMatStore } from './use-mat';

/** By the clock sides and roles change at half time and with the round: the Mat is looked at again when they do. */
export function useClockTurns(): void {
  const store = useMatStore();
  const running = useMat(({ common }) => common.now.clock);
  useEffect(() => {
    const { session } = store.work;
    if (running.since === null || session.repsPerSide !== null) return;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const next = () => {
      store.look();
      const { ranMs } = clockAt(running, clock.now(), session);
      const roundMs = session.roundSeconds * 1000;
      const marks = [roundMs / 2, roundMs, roundMs + session.restSeconds * 1000];
      const mark = marks.find((one) => one > ranMs);
      if (mark !== undefined) timer = setTimeout(next, mark - ranMs + 50);
    };
    next();
    return () => clearTimeout(timer);
  }, [store, running]);
}
