import { type RefObject, useEffect, useMemo, useRef } from 'react';

/** A function as of the latest drawing, in a box that stays the same. */
export function useLatest<F>(now: F): RefObject<F> {
  const latest = useRef(now);
  useEffect(() => {
    latest.current = now;
  });
  return latest;
}

/** A value that stays the same object while it says the same, so that what is drawn from it is not drawn again. */
export function useSame<T>(value: T): T {
  const text = JSON.stringify(value);
  return useMemo(() => JSON.parse(text) as T, [text]);
}
