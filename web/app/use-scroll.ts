import { useEffect, useLayoutEffect, useRef } from 'react';
import { NavigationType, useLocation, useNavigationType } from 'react-router';

const storedAs = 'ulkret-scroll';
/** How long a loading page may grow until it is as high as it was. */
const growingMs = 4000;
const handsOn = ['wheel', 'touchstart', 'keydown', 'pointerdown'] as const;

function stored(): Record<string, number> {
  try {
    return JSON.parse(sessionStorage.getItem(storedAs) ?? '{}') as Record<string, number>;
  } catch {
    return {};
  }
}

/** Scrolls there as soon as the page is high enough, unless somebody scrolls first. The answer gives up. */
function scrollOnce(to: number): () => void {
  const growing = new ResizeObserver(() => {
    window.scrollTo(0, to);
    if (Math.abs(window.scrollY - to) < 2) stop();
  });
  const timer = setTimeout(() => stop(), growingMs);
  const stop = () => {
    growing.disconnect();
    clearTimeout(timer);
    for (const name of handsOn) window.removeEventListener(name, stop);
  };
  for (const name of handsOn) window.addEventListener(name, stop, { passive: true });
  growing.observe(document.documentElement);
  return stop;
}

/** A page is opened at its top; by Back, Forward and a reload it is where it was scrolled to. A change within a page moves nothing. */
export function useScroll(): void {
  const { key, pathname } = useLocation();
  const came = useNavigationType();
  const scrolledTo = useRef(stored());
  const here = useRef(key);
  const shown = useRef<string | null>(null);
  useLayoutEffect(() => {
    here.current = key;
    const moved = shown.current !== pathname;
    shown.current = pathname;
    if (came === NavigationType.Pop) return scrollOnce(scrolledTo.current[key] ?? 0);
    if (moved) window.scrollTo(0, 0);
    return undefined;
  }, [key, pathname, came]);
  useEffect(() => {
    const before = window.history.scrollRestoration;
    window.history.scrollRestoration = 'manual';
    const note = () => (scrolledTo.current[here.current] = window.scrollY);
    const store = () => {
      try {
        sessionStorage.setItem(storedAs, JSON.stringify(scrolledTo.current));
      } catch {
        // Where nothing can be stored, a page opens at its top.
      }
    };
    window.addEventListener('scroll', note, { passive: true });
    window.addEventListener('pagehide', store);
    return () => {
      window.history.scrollRestoration = before;
      window.removeEventListener('scroll', note);
      window.removeEventListener('pagehide', store);
    };
  }, []);
}
