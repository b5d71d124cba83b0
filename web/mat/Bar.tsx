import type { Side } from '@ulkret/core/breakdown';
import { type Rung, rungNames } from '@ulkret/core/rep';
import type { RoundClock } from '@ulkret/core/session';
import { Volume2, VolumeX } from 'lucide-react';
import type { RefObject } from 'react';
import { VisuallyHidden } from 'react-aria/VisuallyHidden';
import { Link } from 'react-router';
import styled from 'styled-components';
import { syncWords } from '../device/sync-state';
import { useSyncState } from '../device/use-outbox';
import { Caution } from '../ui/caution';
import { late } from './late';
import { Clock } from './Clock';
import { narrow, sideways, upright } from './held';
import type { MatActions } from './keys';
import type { Signal } from './signals';
import { Title } from '../ui/title';

const twoLines = `
    &::before {
      content: '';
      order: 1;
      flex: 0 0 100%;
    }
    > .step,
    > button,
    > a {
      order: 2;
    }
    > button:first-child,
    > button.safety {
      order: 0;
    }
    > a {
      margin-left: auto;
    }
    > button.wide {
      display: none;
    }
`;

const Top = styled.header`
  /* A line of its own below all that is pressed, so that it never pushes one of them aside. */
  [role='note'] {
    order: 3;
    flex: 1 0 100%;
  }
  contain: layout style;
  grid-area: top;
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.5rem 0.7rem;
  h1 {
    font-size: 1.15rem;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  > div:first-of-type {
    flex: 1 1 7rem;
    min-width: 0;
  }
  small {
    color: var(--muted);
    font-size: 0.9rem;
  }
  .step {
    display: flex;
    align-items: center;
    gap: 0.3rem;
  }
  .step span {
    display: grid;
    justify-items: center;
    line-height: 1.1;
    min-width: 2.4rem;
  }
  > button:not(:first-child),
  .step button {
    min-width: 48px;
    min-height: 48px;
    border: 1.5px solid var(--line);
    border-radius: 8px;
    background: var(--surface);
    display: grid;
    place-content: center;
    justify-items: center;
    line-height: 1.1;
    padding: 0 0.7rem;
    cursor: pointer;
    touch-action: manipulation;
  }
  a {
    min-height: 48px;
    display: grid;
    place-content: center;
    padding: 0 0.5rem;
  }
  > button.safety {
    order: 1;
    min-height: 48px;
    padding: 0 1rem;
    border: 0;
    border-radius: 8px;
    background: var(--stop);
    color: var(--surface);
    font-weight: 650;
    line-height: 1.1;
    cursor: pointer;
    touch-action: manipulation;
    &:active {
      filter: brightness(0.85);
    }
  }
  /* Two lines: the clock, what is drilled and safety; below them what holds for the next rep. */
  ${upright} {
    ${twoLines}
  }
  ${narrow} {
    ${twoLines}
    gap: 0.3rem;
    > div:first-of-type {
      flex: 1 1 4rem;
    }
    > button.safety {
      width: 5.4rem;
      padding: 0 0.4rem;
    }
    > button:not(:first-child),
    .step button {
      padding: 0 0.4rem;
    }
    .step span {
      min-width: 2rem;
    }
    /* However long its name is, the knots stay where they are. */
    h1,
    > div:first-of-type small {
      display: -webkit-box;
      -webkit-box-orient: vertical;
      -webkit-line-clamp: 2;
      overflow: hidden;
      white-space: normal;
      line-height: 1.1;
    }
    h1 {
      font-size: 1rem;
    }
    a {
      padding: 0;
      min-width: 48px;
      font-size: 0.95rem;
    }
  }
  @media (max-width: 380px) {
    > button.silent {
      display: none;
    }
    > div:first-of-type {
      line-height: 1.15;
      small {
        font-size: 0.8rem;
      }
    }
    h1 {
      font-size: 0.95rem;
    }
  }
  ${sideways} {
    flex-wrap: nowrap;
    gap: 0.35rem;
    &::before {
      display: none;
    }
    > .step,
    > button,
    > a {
      order: 0;
    }
    /* Farthest from the thumb that finishes. */
    > button.safety {
      order: -1;
      padding: 0 0.5rem;
      width: 5.4rem;
    }
    > div:first-of-type {
      flex: 1 1 4rem;
    }
    > button.wide {
      display: none;
    }
    > button:not(:first-child),
    .step button {
      padding: 0 0.4rem;
    }
    .step span {
      min-width: 1.9rem;
    }
    small {
      font-size: 0.8rem;
    }
    [role='note'] {
      display: none;
    }
  }
  @media (max-height: 520px) and (max-width: 760px) {
    > div:first-of-type {
      display: none;
    }
  }
`;

interface BarProps {
  session: string;
  technique: { name: string; loadSpeed: 'slow' | 'fast'; safetyNote: string };
  span: string;
  clock: RoundClock;
  roundSeconds: number;
  rounds: number;
  byTheClock: boolean;
  rung: Rung;
  side: Side;
  silent: boolean;
  on: RefObject<MatActions & { silence(): void; signal(signal: Signal): void }>;
}

/** What can be read from far and what holds for the next rep: clock, rung, lead side. */
export const Bar = late(function Bar({
  session,
  technique,
  span,
  rung,
  side,
  silent,
  on,
  ...clock
}: BarProps) {
  return (
    <Top>
      <Clock
        {...clock}
        onToggle={() => on.current.clock()}
        onSignal={(signal) => on.current.signal(signal)}
      />
      <div>
        <Title>{technique.name}</Title>
        <small>
          {span} · <SyncWords />
        </small>
      </div>
      <div role="group" aria-label={`Rung ${rung}, ${rungNames[rung]}`} className="step">
        <span>
          <small>Rung</small>
          <strong data-testid="rung">{rung}</strong>
        </span>
        <button type="button" aria-label="One rung down" onClick={() => on.current.rungDown()}>
          −
        </button>
        <button type="button" aria-label="One rung up" onClick={() => on.current.rungUp()}>
          +
        </button>
      </div>
      <button type="button" onClick={() => on.current.changeSide()}>
        <small>Lead </small>
        <strong>
          {side}
          <VisuallyHidden elementType="span"> side: change</VisuallyHidden>
        </strong>
      </button>
      <button type="button" onClick={() => on.current.swap()}>
        <small>Swap </small>
        <strong>roles</strong>
      </button>
      <button
        type="button"
        className="silent"
        aria-pressed={silent}
        aria-label="Silent: signals are shown, without a sound"
        onClick={() => on.current.silence()}
      >
        {silent ? <VolumeX aria-hidden /> : <Volume2 aria-hidden />}
      </button>
      <button type="button" aria-label="? Keys" className="wide" onClick={() => on.current.help()}>
        <strong>?</strong>
      </button>
      <button type="button" className="safety" onClick={() => on.current.safety()}>
        Stop for safety
      </button>
      <Link to={`/mat/${session}/after`}>Leave</Link>
      {technique.loadSpeed === 'fast' && (
        <Caution note={`Fast lock: put it on slowly. ${technique.safetyNote}`} />
      )}
    </Top>
  );
});

function SyncWords() {
  const state = useSyncState();
  const words = syncWords(state);
  return (
    <span data-testid="sync" role={state.unkept > 0 ? 'alert' : undefined} title={state.trouble ?? undefined}>
      {state.refused.length > 0 ? <Link to="/waiting">{words}</Link> : words}
    </span>
  );
}
