import { Suspense, useEffect } from 'react';
import { part } from '../../ui/part';
import { useAct, useMat } from './use-mat';

// What is opened over the Mat now and then is loaded then; offline, from what this device has.
const parts = {
  about: part(() => import('./AboutPanel')),
  care: part(() => import('./CarePanel')),
  'earlier day': part(() => import('./EarlierDayPanel')),
  everybody: part(() => import('./EverybodyPanel')),
  keys: part(() => import('./KeyList')),
  let: part(() => import('./OverridePanel')),
  pairs: part(() => import('./PairsPanel')),
  play: part(() => import('./PlayPanel')),
  reps: part(() => import('./RepsPanel')),
  twice: part(() => import('./TwicePanel')),
  undo: part(() => import('./UndoPanel')),
  work: part(() => import('./WorkPanel')),
} as const;

/** When the Mat has been opened: the network may be gone when a panel is wanted. */
const fetchPanelsMs = 2000;

/** The panel over the Mat. */
export function Panels() {
  const act = useAct();
  const over = useMat(({ state }) => state.over);
  useEffect(() => {
    const load = () => void Promise.allSettled(Object.values(parts).map((one) => one.load()));
    const timer = setTimeout(load, fetchPanelsMs);
    return () => clearTimeout(timer);
  }, []);
  if (!over) return null;
  const Panel = parts[over.is];
  return (
    <Suspense>
      <Panel close={() => act({ do: 'over', over: null })} />
    </Suspense>
  );
}
