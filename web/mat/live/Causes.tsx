import { causesAt, type Id, readFor } from '@ulkret/core/breakdown';
import type { CauseAsked } from '@ulkret/core/session';
import { type ReactNode, type Ref, useEffect, useImperativeHandle, useState } from 'react';
import styled from 'styled-components';
import { afterPaint } from '../../ui/after-paint';
import { sideways, upright } from './held';

/** The room below the knots that belongs to the causes, in pixels. */
export const causesHeight = 54;

const below = `
    inset: auto 0 0 0 !important;
    width: auto;
    height: ${causesHeight}px;
    translate: none !important;
    flex-direction: row;
    overflow-x: auto;
    padding: 3px;
    button {
      white-space: nowrap;
    }
    &[data-played] button {
      max-width: 15rem;
      padding: 0 0.6rem;
      font-size: 0.85rem;
      line-height: 1.1;
      white-space: normal;
      span {
        overflow: hidden;
        display: -webkit-box;
        -webkit-line-clamp: 2;
        -webkit-box-orient: vertical;
      }
    }
`;

/** The causes of the last stop, in the lane next to its knot, or in a row below all knots on an upright device. */
export const Chips = styled.div`
  position: absolute;
  z-index: 2;
  right: 3px;
  width: calc(var(--lane) - 0.8rem);
  display: flex;
  flex-direction: column;
  gap: 0.3rem;
  button {
    min-height: 48px;
    flex: none;
    padding: 0 0.9rem;
    border: 2px solid var(--stop);
    border-radius: 8px;
    background: var(--surface);
    font-weight: 600;
    text-align: left;
    cursor: pointer;
    touch-action: manipulation;
  }
  &[data-played] button {
    border-color: var(--action);
    &[aria-pressed='true'] {
      background: var(--wash);
    }
    &[data-lost] {
      border-color: var(--stop);
      background: var(--stop-wash);
    }
  }
  small {
    margin-left: 0.5em;
    color: var(--muted);
    font-weight: 400;
  }
  ${upright} {
    ${below}
  }
  ${sideways} {
    ${below}
  }
`;

export interface CauseAsker {
  /** Asks for the cause of a stop once its mark is on the screen; null stops asking. */
  ask(asked: CauseAsked | null): void;
}

/** The time that a stop waits for its cause. */
const askForMs = 7000;

/** That checkpoint's mistakes and defences, for a second tap, in the lane next to it; for a few seconds. */
export function Causes({
  rowHeight,
  onTag,
  ref,
  children,
}: {
  rowHeight: number;
  onTag: (rep: string, cause: Id) => void;
  ref: Ref<CauseAsker>;
  /** Shown there until a question comes. */
  children?: ReactNode;
}) {
  const [asked, setAsked] = useState<CauseAsked | null>(null);
  useImperativeHandle(ref, () => ({ ask: (next) => void afterPaint(() => setAsked(next)) }), []);
  useEffect(() => {
    if (!asked) return;
    const timer = setTimeout(() => setAsked(null), askForMs);
    return () => clearTimeout(timer);
  }, [asked]);
  if (!asked) return children;
  const { breakdown, place, rep, side } = asked;
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
