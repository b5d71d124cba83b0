import { type Side } from '@ulkret/core/breakdown';
import { type Rung, rungNames } from '@ulkret/core/rep';
import { memo, type RefObject } from 'react';
import { VisuallyHidden } from 'react-aria/VisuallyHidden';
import { Link } from 'react-router';
import { syncWords } from '../offline/outbox';
import { useSyncState } from '../offline/use-outbox';
import { Caution } from '../shell/ui';
import { Clock } from './Clock';
import type { Clocked } from './clocked';
import type { MatActions } from './keys';
import { Top } from './layout';

interface BarProps {
  technique: { name: string; loadSpeed: 'slow' | 'fast'; safetyNote: string };
  span: string;
  clock: Clocked;
  roundSeconds: number;
  rung: Rung;
  side: Side;
  on: RefObject<MatActions>;
}

/** What can be read from far and what holds for the next rep: clock, rung, lead side. */
export const Bar = memo(function Bar({ technique, span, clock, roundSeconds, rung, side, on }: BarProps) {
  return (
    <Top>
      <Clock clock={clock} roundSeconds={roundSeconds} onToggle={() => on.current.clock()} />
      <div>
        <h1>{technique.name}</h1>
        <small>
          {span} · <SyncWords />
        </small>
      </div>
      <div role="group" aria-label={`Rung ${rung}, ${rungNames[rung]}`} className="step">
        <span>
          <small>Rung</small>
          <strong data-testid="rung">{rung}</strong>
        </span>
        <button type="button" aria-label="One rung down" onClick={() => on.current.rung(-1)}>
          −
        </button>
        <button type="button" aria-label="One rung up" onClick={() => on.current.rung(1)}>
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
      <button type="button" aria-label="? Keys" className="wide" onClick={() => on.current.help()}>
        <strong>?</strong>
      </button>
      <Link to="/mat">Leave</Link>
      {technique.loadSpeed === 'fast' && (
        <Caution note={`Comes on fast, so put it on slowly. ${technique.safetyNote}`} />
      )}
    </Top>
  );
});

function SyncWords() {
  return <span data-testid="sync">{syncWords(useSyncState())}</span>;
}
