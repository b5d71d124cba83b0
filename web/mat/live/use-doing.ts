import type { MatAction, MatState } from '@ulkret/core/session';
import { createContext, type RefObject, use, useEffect, useMemo, useRef, useState } from 'react';
import type { CauseAsker } from './Causes';
import { chosenKeys, type Keys, useMatKeys, type MatActions } from './keys';
import { play, type Signal } from './signals';
import { useMatStore } from './use-mat';

const silentKey = 'ulkret-mat-silent';
/** How long the clock's signal stays on the screen. */
const flashForMs = 2500;

/** What is heard, pressed and shown for a moment: nothing of it is about a rep. */
export interface Doing {
  silent: boolean;
  silence(): void;
  signal(one: Signal): void;
  flash: Signal | null;
  keys: Keys;
  setKeys(keys: Keys): void;
  actions: MatActions;
  asker: RefObject<CauseAsker | null>;
}

export const DoingContext = createContext<Doing | null>(null);
export function useDoingHere(): Doing {
  const doing = use(DoingContext);
  if (!doing) throw new Error('a part of the Mat is drawn outside of it');
  return doing;
}

const isSilent = (): boolean => {
  try {
    return localStorage.getItem(silentKey) === 'yes';
  } catch {
    return false;
  }
};

/** Is this way of tapping set already? Then the same press sets it back. */
const toggledTapping = (state: MatState, key: string | undefined, tapping: 'forced' | 'not judged') =>
  state.begun.get(key ?? '')?.tapping === tapping ? 'stop' : tapping;

/** Keys, sounds and the question for a cause, next to the store of the Mat. */
export function useDoing(): Doing {
  const store = useMatStore();
  const asker = useRef<CauseAsker>(null);
  const [keys, setKeys] = useState(chosenKeys);
  const [silent, setSilent] = useState(isSilent);
  const [flash, setFlash] = useState<Signal | null>(null);
  useEffect(() => {
    if (!flash) return;
    const timer = setTimeout(() => setFlash(null), flashForMs);
    return () => clearTimeout(timer);
  }, [flash]);
  const made = useMemo(() => {
    const { act } = store;
    const knot = (place: number, does: 'knot' | 'soften') => {
      const checkpoint = store.now().open?.breakdown.checkpoints[place]?.id;
      if (checkpoint !== undefined) act({ do: 'tap', tap: { do: does, checkpoint } });
    };
    const mean = (tapping: 'forced' | 'not judged') => {
      const { state, open } = store.now();
      act({ do: 'tap', tap: { do: 'mean', tapping: toggledTapping(state, open?.view.key, tapping) } });
    };
    const of = (action: MatAction) => () => act(action);
    const actions: MatActions = {
      stopAt: (place) => knot(place, 'knot'),
      soften: (place) => knot(place, 'soften'),
      finish: of({ do: 'tap', tap: { do: 'ring' } }),
      stopAtWork: of({ do: 'stop at work' }),
      pairBefore: of({ do: 'walk', by: -1 }),
      nextPair: of({ do: 'walk', by: 1 }),
      swap: of({ do: 'tap', tap: { do: 'swap' } }),
      changeSide: of({ do: 'tap', tap: { do: 'change side' } }),
      everybodySwitches: of({ do: 'everybody switches' }),
      rungDown: of({ do: 'rung', step: -1 }),
      rungUp: of({ do: 'rung', step: 1 }),
      clock: of({ do: 'clock' }),
      undo: of({ do: 'undo last' }),
      forced: () => mean('forced'),
      notJudged: () => mean('not judged'),
      safety: of({ do: 'safety' }),
      help: () => act({ do: 'over', over: store.now().state.over?.is === 'keys' ? null : { is: 'keys' } }),
    };
    return actions;
  }, [store]);
  const signal = useMemo(
    () => (one: Signal) => {
      if (!silent) play(one);
      setFlash(one);
    },
    [silent],
  );
  useMatKeys(made, keys);
  useEffect(
    () =>
      store.hear({
        ask: (asked) => asker.current?.ask(asked),
        signal: () => signal('start'),
      }),
    [store, signal],
  );
  return useMemo(
    () => ({
      silent,
      silence: () => {
        try {
          localStorage.setItem(silentKey, silent ? 'no' : 'yes');
        } catch {
          // A full device forgets it when the page is left.
        }
        setSilent(!silent);
      },
      signal,
      flash,
      keys,
      setKeys,
      actions: made,
      asker,
    }),
    [silent, signal, flash, keys, made],
  );
}
