import type { Notice } from '@ulkret/core/session';
import { useEffect, useMemo, useState } from 'react';
import styled from 'styled-components';
import { clock } from '../../api/clock';
import { useMay } from '../../api/may';
import { thisDevice } from '../../device/this-device';
import { adviceOf, isSaidHere, type AdviceNote } from './advice-of';
import { narrow, short, sideways } from './held';
import { late } from './late';
import { useAct, useMatLate, useMatStore } from './use-mat';
import { useWatchNext } from './use-watch-next';
import { useWhose } from './use-whose';

/** If there is no room for a message, it shows here for a moment. */
const saidHere = `
    .said:not(:empty) {
      display: inline;
    }
    .said:not(:empty) ~ span {
      display: none;
    }
`;

/** Always of one height: what it says comes and goes, and no knot moves. */
const Line = styled.div`
  grid-area: advice;
  contain: strict;
  height: 52px;
  display: flex;
  align-items: center;
  gap: 0.6rem;
  padding: 0 0.3rem 0 0;
  border-radius: 10px;
  background: var(--raised);
  line-height: 1.15;
  &[data-grave='stop'] {
    background: var(--stop-wash);
    border-left: 5px solid var(--stop);
  }
  &[data-grave='care'] {
    background: var(--soft-wash);
    border-left: 5px solid var(--soft);
  }
  .said {
    display: none;
  }
  ${narrow} {
    ${saidHere}
  }
  ${sideways} {
    ${saidHere}
  }
  > button {
    flex: none;
    min-height: 48px;
    padding: 0 0.8rem;
    border: 1.5px solid var(--action);
    border-radius: 8px;
    background: var(--surface);
    color: var(--action);
    font-weight: 600;
    cursor: pointer;
    touch-action: manipulation;
  }
  /* The words themselves open all of what is to be known: nothing that is cut is out of reach. */
  > button:first-child {
    flex: 1;
    min-width: 0;
    height: 100%;
    border: 0;
    padding: 0 0.3rem 0 0.8rem;
    background: transparent;
    color: inherit;
    font-weight: inherit;
    line-height: inherit;
    text-align: left;
    > p {
      overflow: hidden;
      display: -webkit-box;
      -webkit-line-clamp: 2;
      -webkit-box-orient: vertical;
    }
    > p[data-two] {
      display: block;
      > span {
        display: block;
        overflow: hidden;
        white-space: nowrap;
        text-overflow: ellipsis;
      }
    }
  }
  u {
    text-decoration: none;
    color: var(--action);
    font-weight: 650;
    white-space: nowrap;
  }
  ${short} {
    height: 48px;
  }
  ${sideways} {
    height: 48px;
    font-size: 0.9rem;
  }
  ${narrow} {
    font-size: 0.9rem;
    gap: 0.3rem;
    > button:first-child {
      padding-left: 0.5rem;
    }
    > button {
      padding: 0 0.5rem;
    }
    /* A question of several answers is asked in a sheet of its own. */
    &[data-is='twice'] > button:not(:first-child, .ask) {
      display: none;
    }
  }
  ${sideways} {
    &[data-is='twice'] > button:not(:first-child, .ask) {
      display: none;
    }
  }
  .ask {
    display: none;
  }
  ${narrow} {
    .ask {
      display: block;
    }
  }
  ${sideways} {
    .ask {
      display: block;
    }
  }
`;

/** How long a message takes the place of the advice. */
const saidForMs = 4000;

/** What was just said about the open pair, for a moment. */
function useSaid(): string {
  const here = useMatLate((now) => (isSaidHere(now) && now.state.said?.loud ? now.state.said : null));
  const [over, setOver] = useState<Notice | null>(null);
  useEffect(() => {
    if (!here) return;
    const timer = setTimeout(() => setOver(here), saidForMs);
    return () => clearTimeout(timer);
  }, [here]);
  return here && here !== over ? here.words : '';
}

/** All that is to be known of the open pair, what matters most first. */
export function useNotes(): AdviceNote[] {
  const store = useMatStore();
  const now = useMatLate((one) => one);
  const decides = useMay('coach');
  const watched = useWatchNext();
  const whose = useWhose();
  return useMemo(() => {
    const { nameOf, coach, observerName } = store.knows();
    const device = thisDevice();
    return adviceOf(now, {
      nameOf,
      whose,
      who: (observer) => (observer === coach ? 'You, on another device,' : observerName(observer)),
      decides,
      device,
      at: clock.now(),
      watched,
    });
  }, [store, now, decides, watched, whose]);
}

/** The one thing about the open pair that a coach must know now, and what to do about it. Always of the same height. */
export const Advice = late(function Advice() {
  const act = useAct();
  const notes = useNotes();
  const said = useSaid();
  const [first] = notes;
  const work = first!.grave === 'care' ? notes.find(({ is }) => is === 'work') : undefined;
  const does = first!.does.length > 0 ? first!.does : (work?.does ?? []);
  const hidden = notes.length - 1 - (work ? 1 : 0);
  return (
    <Line data-grave={first!.grave} data-is={first!.is} role="note" aria-label="What to know about this pair">
      <button type="button" onClick={() => act({ do: 'over', over: { is: 'about' } })}>
        <p data-two={work !== undefined || undefined}>
          <span className="said" aria-hidden>
            {said}
          </span>
          <span>
            {first!.words}
            {hidden > 0 && (
              <>
                {' '}
                <u>and {hidden} more</u>
              </>
            )}
          </span>
          {work && <span>{work.words}</span>}
        </p>
      </button>
      {first!.is === 'twice' && (
        <button type="button" className="ask" onClick={() => act({ do: 'over', over: { is: 'twice' } })}>
          Decide
        </button>
      )}
      {does.map(({ words, act: action }) => (
        <button key={words} type="button" onClick={() => act(action)}>
          {words}
        </button>
      ))}
    </Line>
  );
});
