import { type RefObject, useLayoutEffect, useState } from 'react';

const tallest = 84;
/** With the gap to the next one, so that the button itself is 48 px tall. */
const lowest = 52;
const lowestOnAPhone = 48;

/** Rows as tall as the stage allows, so that every knot is on the screen at once. */
export function useRowHeight(
  stage: RefObject<HTMLElement | null>,
  rows: number,
): { rowHeight: number; width: number } {
  const [size, setSize] = useState({ rowHeight: 64, width: 84 });
  useLayoutEffect(() => {
    const element = stage.current;
    if (!element) return;
    const measure = () => {
      const room = (element.clientHeight - 6) / rows;
      const narrow = element.clientWidth < 520;
      setSize({
        rowHeight: Math.floor(Math.min(tallest, Math.max(narrow ? lowestOnAPhone : lowest, room))),
        width: narrow ? 64 : 92,
      });
    };
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(element);
    return () => observer.disconnect();
  }, [stage, rows]);
  return size;
}
