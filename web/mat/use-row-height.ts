import { type RefObject, useLayoutEffect, useState } from 'react';

const finishHeight = 88;
const tallest = 84;
const lowest = 52;

/** Rows as tall as the stage allows, so that every knot and the ring are on the screen at once. */
export function useRowHeight(
  stage: RefObject<HTMLElement | null>,
  rows: number,
): { rowHeight: number; width: number } {
  const [size, setSize] = useState({ rowHeight: 64, width: 84 });
  useLayoutEffect(() => {
    const element = stage.current;
    if (!element) return;
    const measure = () => {
      const room = (element.clientHeight - finishHeight) / rows;
      setSize({
        rowHeight: Math.floor(Math.min(tallest, Math.max(lowest, room))),
        width: element.clientWidth < 520 ? 64 : 92,
      });
    };
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(element);
    return () => observer.disconnect();
  }, [stage, rows]);
  return size;
}
