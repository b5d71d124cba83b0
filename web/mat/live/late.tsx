import { type ComponentType, memo, useEffect, useState } from 'react';
import { afterPaint } from '../../ui/after-paint';

/** A value a frame late, for what may be drawn after the mark of a tap. */
function useAfterPaint<T>(value: T): T {
  const [shown, setShown] = useState(value);
  useEffect(() => afterPaint(() => setShown(value)), [value]);
  return shown;
}

/** False until the first frame is on the screen: for what need not be in it. */
export function useDrawn(): boolean {
  const [drawn, setDrawn] = useState(false);
  useEffect(() => afterPaint(() => setDrawn(true)), []);
  return drawn;
}

/** A component that follows a frame late, and only then costs anything: the mark of a tap comes first. */
export function late<P extends object>(component: ComponentType<P>) {
  const Now = memo(component) as unknown as ComponentType<P>;
  return memo(function Late(props: P) {
    return <Now {...useAfterPaint(props)} />;
  });
}
