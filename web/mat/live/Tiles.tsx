import { useCallback, useEffect, useState } from 'react';
import styled from 'styled-components';
import { clock } from '../../api/clock';
import { narrow, sideways, upright } from './held';
import { useDrawn } from './late';
import { PairTile } from './PairTile';
import { useDoingHere } from './use-doing';
import { useAct, useMat, useMatStore } from './use-mat';
import { useWatchNext } from './use-watch-next';

const Face = styled.nav`
  contain: layout style;
  grid-area: tiles;
  display: grid;
  grid-template-rows: minmax(0, 1fr) auto;
  gap: 0.35rem;
  > div:first-child {
    display: grid;
    /* As tall as there is room for, and all of nine in view on a tablet. */
    grid-auto-rows: minmax(60px, 78px);
    align-content: start;
    gap: 4px;
    overflow-y: auto;
    padding: 2px;
  }
  > div:last-child {
    display: flex;
    gap: 0.35rem;
  }
  > div:last-child > button {
    flex: 1;
    min-width: 48px;
    min-height: 48px;
    border: 0;
    border-radius: 8px;
    background: var(--raised);
    color: var(--action);
    font-weight: 600;
    line-height: 1.05;
    cursor: pointer;
    touch-action: manipulation;
  }
  .walk {
    display: none;
  }
  ${upright} {
    grid-template: minmax(0, 1fr) / minmax(0, 1fr) auto;
    > div:first-child {
      grid-auto-flow: column;
      grid-auto-columns: 13.6rem;
      grid-auto-rows: 6.2rem;
      overflow: auto hidden;
    }
    > div:last-child {
      flex-direction: column;
      width: 5.4rem;
    }
  }
  /* Four pairs in view. */
  ${narrow} {
    > div:first-child {
      grid-auto-columns: calc((100% - 12px) / 4);
      grid-auto-rows: 5.2rem;
    }
    > div:last-child {
      display: none;
    }
  }
  /* One pair is in view, with arrows to the next. */
  ${sideways} {
    grid-template: minmax(0, 1fr) auto / minmax(0, 1fr);
    > div:first-child {
      grid-auto-flow: row;
      grid-auto-columns: auto;
      grid-auto-rows: minmax(0, 7.4rem);
      overflow: hidden auto;
      > button:not([aria-pressed='true']) {
        display: none;
      }
    }
    > div:last-child {
      display: flex;
      flex-flow: row wrap;
      width: auto;
    }
    > div:last-child > button {
      flex: 1 1 40%;
    }
    .walk {
      display: block;
      font-size: 1.4rem;
    }
  }
`;

/** As many tiles as fit on a tablet: the others come a frame later, so that the first tap can be made sooner. */
const firstTiles = 9;
/** A pair unseen for this long may be forgotten. */
const longUnseenMs = 10 * 60_000;
const lookMs = 30_000;

/** The time, looked at twice a minute. */
function useTime(): number {
  const [now, setNow] = useState(() => clock.now());
  useEffect(() => {
    const timer = setInterval(() => setNow(clock.now()), lookMs);
    return () => clearInterval(timer);
  }, []);
  return now;
}

/** The pairs in the order in which the coach walks. */
export function Tiles() {
  const store = useMatStore();
  const act = useAct();
  const { actions } = useDoingHere();
  const { repsPerSide, startedAt } = store.work.session;
  const views = useMat((now) => now.views);
  const open = useMat((now) => now.open);
  const ended = useMat(({ common }) => common.now.endedAt !== null);
  const library = useMat(({ common }) => common.library);
  const watched = useWatchNext();
  const drawn = useDrawn();
  const time = useTime();
  const choose = useCallback(
    (key: string) => {
      const view = store.now().views.find((one) => one.key === key);
      if (view) act({ do: 'open', pair: view.members });
    },
    [store, act],
  );
  const at = views.findIndex(({ key }) => key === open?.view.key);
  return (
    <Face aria-label="Pairs">
      <div>
        {views.slice(0, drawn ? undefined : Math.max(firstTiles, at + 1)).map((one) => {
          const isOpen = one.key === open?.view.key;
          const unseen = time - Date.parse(one.reps.at(-1)?.at ?? startedAt);
          return (
            <PairTile
              key={one.key}
              view={isOpen ? open.view : one}
              gone={one.carried && (library.get(one.carried.technique)?.technique.name ?? null)}
              repsPerSide={repsPerSide}
              active={isOpen}
              watch={watched?.student === one.turn.student ? watched : null}
              unseenMinutes={!ended && unseen >= longUnseenMs ? Math.floor(unseen / 60_000) : null}
              onChoose={choose}
            />
          );
        })}
      </div>
      <div>
        <button type="button" className="walk" aria-label="The pair before" onClick={actions.pairBefore}>
          ‹
        </button>
        <button type="button" className="walk" aria-label="The next pair" onClick={actions.nextPair}>
          ›
        </button>
        <button type="button" onClick={actions.everybodySwitches}>
          Switch all
        </button>
        <button
          type="button"
          aria-label="All pairs …"
          onClick={() => act({ do: 'over', over: { is: 'everybody' } })}
        >
          All …
        </button>
      </div>
    </Face>
  );
}
