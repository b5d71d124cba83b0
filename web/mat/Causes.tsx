import { type Breakdown, causesAt, type Id, readFor, type Side } from '@ulkret/core/breakdown';
import { type Ref, useEffect, useImperativeHandle, useState } from 'react';
import { afterPaint } from '../ui/after-paint';
import { Chips } from './layout';

/** The stop that asks why it happened. */
export interface StopAsked {
  rep: string;
  place: number;
  side: Side;
}

export interface Asker {
  /** Asks for the cause of a stop once its mark is on the screen; null stops asking. */
  ask(asked: StopAsked | null): void;
}

/** How long a stop asks for its cause. */
const askForMs = 7000;

/** That checkpoint's mistakes and defences, for a second tap, in the lane beside it; a few seconds, and then no more. */
export function Causes({
  breakdown,
  rowHeight,
  onTag,
  ref,
}: {
  breakdown: Breakdown;
  rowHeight: number;
  onTag: (rep: string, cause: Id) => void;
  ref: Ref<Asker>;
}) {
  const [asked, setAsked] = useState<StopAsked | null>(null);
  useImperativeHandle(ref, () => ({ ask: (next) => void afterPaint(() => setAsked(next)) }), []);
  useEffect(() => {
    if (!asked) return;
    const timer = setTimeout(() => setAsked(null), askForMs);
    return () => clearTimeout(timer);
  }, [asked]);
  if (!asked) return null;
  const { place, rep, side } = asked;
  return (
    <Chips
      aria-label="Why did it stop?"
      role="group"
      style={
        place < breakdown.checkpoints.length / 2
          ? { top: place * rowHeight + 5 }
          : { top: (place + 1) * rowHeight, translate: '0 -100%' }
      }
    >
      {causesAt(breakdown, breakdown.checkpoints[place]!.id).map(({ id, kind, title }) => (
        <button
          key={id}
          type="button"
          onClick={() => {
            onTag(rep, id);
            setAsked(null);
          }}
        >
          {readFor(title, side)}
          {kind === 'defence' && <small>defence</small>}
        </button>
      ))}
    </Chips>
  );
}
