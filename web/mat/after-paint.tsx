import { type ComponentType, memo, useEffect, useState } from 'react';

const waiting = new Set<() => void>();
let asked = false;

/** Runs something once what is on its way to the screen is there, together with all else that waits. The answer calls it off. */
export function afterPaint(task: () => void): () => void {
  waiting.add(task);
  if (!asked) {
    asked = true;
    requestAnimationFrame(() => setTimeout(runWaiting));
  }
  return () => void waiting.delete(task);
}

function runWaiting(): void {
  const tasks = [...waiting];
  waiting.clear();
  asked = false;
  for (const task of tasks) task();
}

/** A value a frame late, for what may be drawn after the mark of a tap. */
export function useAfterPaint<T>(value: T): T {
  const [shown, setShown] = useState(value);
  useEffect(() => afterPaint(() => setShown(value)), [value]);
  return shown;
}

/** A component that follows a frame late, and only then costs anything: the mark of a tap comes first. */
export function late<P extends object>(component: ComponentType<P>) {
  const Now = memo(component) as unknown as ComponentType<P>;
  return memo(function Late(props: P) {
    return <Now {...useAfterPaint(props)} />;
  });
}
