import { useCallback } from 'react';
import { thisDevice } from '../../device/this-device';
import { useMatStore } from './use-mat';

/** Whose a rep or an undo is, in words: “yours” is what was tapped on this device. */
export function useWhose(): (one: { observer: string; device?: string | undefined }) => string {
  const store = useMatStore();
  return useCallback(
    ({ observer, device }) => {
      const { coach, observerName } = store.knows();
      if (device === undefined ? observer === coach : device === thisDevice()) return 'yours';
      return observer === coach ? 'your other device’s' : `${observerName(observer)}’s`;
    },
    [store],
  );
}
