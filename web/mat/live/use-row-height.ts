import { type RefObject, useLayoutEffect, useState } from 'react';

const tallest = 84;
/** With the gap to the next one, so that the button itself is 48 px tall. */
const lowest = 52;
const lowestOnAPhone = 48;
const mostColumns = 3;

/** How the knots lie: rows as tall as the stage allows, and as many columns as it takes for all of them to be in view. */
export function useRowHeight(
  stage: RefObject<HTMLElement | null>,
  knots: number,
): { rowHeight: number; columns: number; width: number } {
  const [size, setSize] = useState({ rowHeight: 64, columns: 1, width: 84 });
  useLayoutEffect(() => {
    const element = stage.current;
    if (!element) return;
    const measure = () => {
      const { paddingTop, paddingBottom } = getComputedStyle(element);
      const room = element.clientHeight - parseFloat(paddingTop) - parseFloat(paddingBottom);
      const small = element.clientWidth < 520 || window.innerHeight < 700;
      const least = small ? lowestOnAPhone : lowest;
      let columns = 1;
      while (columns < mostColumns && Math.ceil(knots / columns) * least > room) columns++;
      setSize({
        rowHeight: Math.floor(Math.min(tallest, Math.max(least, room / Math.ceil(knots / columns)))),
        columns,
        width: columns > 1 ? 42 : small ? 64 : 92,
      });
    };
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(element);
    return () => observer.disconnect();
  }, [stage, knots]);
  return size;
}
