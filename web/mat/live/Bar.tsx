import { placeOf } from '@ulkret/core/breakdown';
import { rungNames } from '@ulkret/core/rep';
import type { OpenScene } from '@ulkret/core/session';
import { Volume2, VolumeX } from 'lucide-react';
import { Link } from 'react-router';
import styled from 'styled-components';
import { syncWords } from '../../device/sync-state';
import { useSyncState } from '../../device/use-outbox';
import { useOffline } from '../../device/use-offline';
import { Caution } from '../../ui/caution';
import { Title } from '../../ui/title';
import { Clock } from './Clock';
import { narrow, sideways, upright } from './held';
import { TurnButtons } from './TurnButtons';
import { useDoingHere } from './use-doing';
import { useMatLate, useMatStore } from './use-mat';

const twoLines = `
    &::before {
      content: '';
      order: 1;
      flex: 0 0 100%;
    }
    > .step,
    > .turns,
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

/** On a phone, whichever way it is held. */
const tight = `
    > button:not(:first-child),
    .step button,
    .turns button {
      padding: 0 0.3rem;
    }
    .turns {
      flex: 1 1 0;
      min-width: min-content;
      gap: 0.2rem;
      button {
        flex: 1 1 0;
        overflow: hidden;
      }
      /* A name takes what room there is and asks for none, so that no name pushes Leave to a line of its own. */
      small {
        width: 0;
        min-width: 100%;
        text-align: center;
      }
    }
    > button.silent {
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
  .turns {
    display: flex;
    gap: 0.3rem;
    min-width: 0;
    small {
      display: block;
      max-width: 5.5rem;
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
  }
  .step span {
    display: grid;
    justify-items: center;
    line-height: 1.1;
    min-width: 2.4rem;
  }
  > button:not(:first-child),
  .step button,
  .turns button {
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
      background: color-mix(in srgb, var(--stop), black 20%);
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
    ${tight}
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
    > .step,
    > .turns {
      gap: 0.1rem;
    }
    > .turns button {
      padding: 0;
    }
    .step span {
      min-width: 1.5rem;
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
    > .turns,
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
    ${tight}
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

/** The checkpoints that are drilled, in words. */
function spanWords({ breakdown, view }: OpenScene): string {
  const { from, to } = view.span;
  if (from === null && to === null) return 'whole';
  const last = to === null ? breakdown.checkpoints.length : placeOf(breakdown, to) + 1;
  return `checkpoints ${from === null ? 1 : placeOf(breakdown, from) + 1} to ${last}`;
}

/** How much the partners of the open pair resist. */
function RungStep() {
  const { actions } = useDoingHere();
  const rung = useMatLate(({ open }) => open?.rung ?? null);
  return (
    rung !== null && (
      <div role="group" aria-label={`Rung ${rung}, ${rungNames[rung]}`} className="step">
        <span>
          <small>Rung</small>
          <strong data-testid="rung">{rung}</strong>
        </span>
        <button type="button" aria-label="One rung down" onClick={actions.rungDown}>
          −
        </button>
        <button type="button" aria-label="One rung up" onClick={actions.rungUp}>
          +
        </button>
      </div>
    )
  );
}

/** What can be read from far and what holds for the next rep: the clock, the rung, whose turn it is. */
export function Bar() {
  const store = useMatStore();
  const { session } = store.work;
  const { actions, silent, silence, signal } = useDoingHere();
  // Each part takes what it shows and no more: a tap draws none of them again.
  const clock = useMatLate(({ common }) => common.now.clock);
  const span = useMatLate(({ open }) => (open ? spanWords(open) : ''));
  const technique = useMatLate(({ open }) => open?.technique) ?? store.knows().technique;
  return (
    <Top>
      <Clock clock={clock} session={session} onToggle={actions.clock} onSignal={signal} />
      <div>
        <Title>{technique.name}</Title>
        <small>
          {span} · <SyncWords />
        </small>
      </div>
      <RungStep />
      <TurnButtons />
      <button
        type="button"
        className="silent"
        aria-pressed={silent}
        aria-label="Mute signals"
        onClick={silence}
      >
        {silent ? <VolumeX aria-hidden /> : <Volume2 aria-hidden />}
      </button>
      <button type="button" aria-label="? Keys" className="wide" onClick={actions.help}>
        <strong>?</strong>
      </button>
      <button type="button" className="safety" onClick={actions.safety}>
        Stop for safety
      </button>
      <Link to={`/mat/${session.id}/after`}>Leave</Link>
      {technique.loadSpeed === 'fast' && (
        <Caution note={`Fast lock: put it on slowly. ${technique.safetyNote}`} />
      )}
    </Top>
  );
}

function SyncWords() {
  const state = useSyncState();
  const offline = useOffline();
  const words = `${offline && state.held !== 'no network' ? 'no network, ' : ''}${syncWords(state)}`;
  return (
    <span data-testid="sync" data-waiting={state.waiting} title={state.trouble ?? undefined}>
      {state.refused.length > 0 ? <Link to="/unsent">{words}</Link> : words}
    </span>
  );
}
