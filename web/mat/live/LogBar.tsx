import { type Rep, stepsOf } from '@ulkret/core/rep';
import { repWords } from '@ulkret/core/session';
import { memo, useMemo, useState } from 'react';
import styled from 'styled-components';
import { narrow, sideways, upright } from './held';
import { isSaidHere } from './advice-of';
import type { MatNow } from './mat-store';
import { useCauseOf } from './use-cause-of';
import { useAct, useMatLate, useMatStore } from './use-mat';
import { useNumberOf } from './use-number-of';
import { RepMark } from '../../strand/RepMark';

const Voice = styled.p`
  font-weight: 600;
  min-height: 1.4em;
`;

/* Of a fixed size, so that what it says never moves the knots, and the browser need not look whether it does. */
const Log = styled.footer`
  contain: strict;
  will-change: transform;
  height: 3.4rem;
  grid-area: log;
  display: flex;
  align-items: center;
  gap: 0.3rem 1rem;
  > p {
    flex: 1 1 0;
    min-width: 0;
    overflow: hidden;
    line-height: 1.2;
  }
  > div {
    flex: none;
    display: flex;
    gap: 0.3rem;
    margin-left: auto;
    button {
      border: 1.5px solid var(--line);
      border-radius: 8px;
    }
  }
  ol {
    display: flex;
    gap: 0.5rem;
    flex: 0 1 auto;
    min-width: 0;
    max-width: 66%;
    overflow-x: auto;
  }
  li {
    contain: content;
    display: flex;
    align-items: center;
    gap: 0.4rem;
    padding-left: 0.5rem;
    background: var(--surface);
    border-radius: 8px;
    white-space: nowrap;
  }
  .all {
    display: none;
  }
  li small.whose {
    color: var(--muted);
  }
  li small {
    max-width: 9rem;
    overflow: hidden;
    text-overflow: ellipsis;
    color: var(--stop);
  }
  button {
    min-height: 48px;
    padding: 0 0.7rem;
    border: 0;
    background: transparent;
    color: var(--action);
    font-weight: 650;
    cursor: pointer;
  }
  ${upright} {
    height: 5.2rem;
    flex-direction: column;
    flex-wrap: nowrap;
    align-items: stretch;
    > div {
      position: absolute;
      right: 0;
      bottom: 0;
    }
    > p {
      flex: none;
    }
    ol {
      margin: 0 11rem 0 0;
      max-width: none;
      min-height: 50px;
    }
  }
  ${narrow} {
    .all {
      display: block;
    }
    /* It is under “All …” as well. */
    .reps {
      display: none;
    }
  }
  /* On a phone the advice says what was said, and the knots get the room. */
  ${narrow} {
    height: 50px;
    > div button {
      padding: 0 0.4rem;
      line-height: 1.05;
      min-width: 48px;
    }
    ol {
      width: calc(100% - 14.2rem);
      margin: 0;
      overflow: hidden;
    }
    /* The last one of this device: the others are under “All …”. */
    li {
      min-width: 0;
      width: 100%;
      gap: 0.2rem;
      padding-left: 0.3rem;
    }
    li:not(:first-child) {
      display: none;
    }
    li button {
      padding: 0 0.3rem;
    }
    li > span:not([role]) {
      flex: 1;
      min-width: 0;
      overflow: hidden;
      text-overflow: ellipsis;
    }
    li small {
      display: none;
    }
    > p {
      position: absolute;
      width: 1px;
      height: 1px;
      overflow: hidden;
      clip-path: inset(50%);
    }
  }
  ${sideways} {
    height: 48px;
    .all {
      display: none;
    }
    .reps {
      display: block;
    }
    > p {
      position: absolute;
      width: 1px;
      height: 1px;
      overflow: hidden;
      clip-path: inset(50%);
    }
    > div {
      position: static;
      flex: 1;
      margin: 0;
      button {
        flex: 1;
        padding: 0 0.2rem;
        line-height: 1.05;
        background: var(--surface);
      }
    }
    ol {
      display: none;
    }
  }
`;

/** How many entries are in view, and how many of them are this device's at most, where others logged as well. */
const shown = 5;
const ownShown = 3;

/** The steps of the last entries: those of this device, the latest first, then those of others. */
const stepsShown = ({ log }: Pick<MatNow, 'log'>, isOwn: (rep: Rep) => boolean): (readonly Rep[])[] => {
  const steps = stepsOf(log.last).reverse();
  const own = steps.filter((step) => isOwn(step.at(-1)!));
  const others = steps.filter((step) => !own.includes(step));
  const ofOwn = Math.max(ownShown, shown - others.length);
  return [...own.slice(0, ofOwn), ...others].slice(0, shown);
};

/** What was just said, and the last entries, each with its undo. */
export function LogBar() {
  const store = useMatStore();
  const act = useAct();
  const now = useMatLate((one) => one);
  const current = useMemo(() => stepsShown(now, store.isOwn), [now, store]);
  // The list does not move under a pointer: entries of others must not move an Undo to another rep.
  const [held, setHeld] = useState<typeof current | null>(null);
  const said = isSaidHere(now) ? now.state.said : null;
  // A screen reader says the same words again.
  const again = said !== null && said.nth % 2 === 1 ? '\u00a0' : '';
  return (
    <Log>
      <Voice role="status">
        {said ? said.words + again : 'Tap the checkpoint where it stopped. Hold one that was soft.'}
      </Voice>
      <div>
        <button type="button" className="all" onClick={() => act({ do: 'everybody switches' })}>
          Switch all
        </button>
        <button
          type="button"
          className="all"
          aria-label="All pairs …"
          onClick={() => act({ do: 'over', over: { is: 'everybody' } })}
        >
          All …
        </button>
        <button
          type="button"
          aria-label="This pair …"
          onClick={() => act({ do: 'over', over: { is: 'play' } })}
        >
          Pair …
        </button>
        <button type="button" className="reps" onClick={() => act({ do: 'over', over: { is: 'reps' } })}>
          All reps
        </button>
      </div>
      <ol
        aria-label="Last entries"
        // What its own coach undoes goes at once; after that it is held again.
        onClick={() => setHeld(null)}
        onPointerMove={() => setHeld((before) => before ?? current)}
        onPointerLeave={() => setHeld(null)}
        onPointerCancel={() => setHeld(null)}
      >
        {(held ?? current).map((step) => (
          <LogEntry key={step[0]!.id} step={step} isOwn={store.isOwn(step.at(-1)!)} />
        ))}
      </ol>
    </Log>
  );
}

const LogEntry = memo(function LogEntry({ step, isOwn }: { step: readonly Rep[]; isOwn: boolean }) {
  const store = useMatStore();
  const act = useAct();
  const numberOf = useNumberOf();
  const causeOf = useCauseOf();
  const rep = step.at(-1)!;
  const { nameOf, observerName } = store.knows();
  const cause = causeOf(rep);
  const name = nameOf(rep.student);
  return (
    <li data-own={isOwn || undefined}>
      {step.map((one) => (
        <RepMark key={one.id} rep={one} numberOf={numberOf} />
      ))}
      <span>{name}</span>
      {!isOwn && <small className="whose">{observerName(rep.observer)}</small>}
      {cause && <small>{cause}</small>}
      <button
        type="button"
        aria-label={`Undo ${name} ${repWords(store.now(), rep)}${isOwn ? '' : `, logged by ${observerName(rep.observer)}`}`}
        onClick={() => act({ do: 'undo', rep })}
      >
        Undo
      </button>
    </li>
  );
});
