import { useEffect, useState } from 'react';

/** Runs something once what is on its way to the screen is there. The answer calls it off. */
export function afterPaint(task: () => void): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const frame = requestAnimationFrame(() => (timer = setTimeout(task)));
  return () => {
    cancelAnimationFrame(frame);
    clearTimeout(timer);
  };
}

/** A value a frame late, for what may be drawn after the mark of a tap. */
export function useAfterPaint<T>(value: T): T {
  const [shown, setShown] = useState(value);
  useEffect(() => afterPaint(() => setShown(value)), [value]);
  return shown;
}
