import { useSyncExternalStore } from 'react';

const query = '(max-width: 640px)';
const follow = (told: () => void) => {
  const media = matchMedia(query);
  media.addEventListener('change', told);
  return () => media.removeEventListener('change', told);
};

/** Is the page as narrow as a phone? For what a drawing has to know in pixels; all else is for the stylesheet. */
export const useNarrow = (): boolean => useSyncExternalStore(follow, () => matchMedia(query).matches);
