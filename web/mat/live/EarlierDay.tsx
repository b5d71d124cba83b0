import { useEffect } from 'react';
import { dateOf } from '../../ui/zone';
import { useAct, useMat, useMatStore } from './use-mat';

/** Asks once whether a class of an earlier day goes on. */
export function EarlierDay() {
  const store = useMatStore();
  const act = useAct();
  const goesOn = useMat(({ state }) => state.goesOn);
  const ended = useMat(({ common }) => common.now.endedAt !== null);
  const today = useMat(({ common }) => common.today);
  const isEarlier = dateOf(Date.parse(store.work.session.startedAt)) < today;
  useEffect(() => {
    if (isEarlier && !goesOn && !ended) act({ do: 'over', over: { is: 'earlier day' } });
  }, [isEarlier, goesOn, ended, act]);
  return null;
}
