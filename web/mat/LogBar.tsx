import { type Rep, stepsOf } from '@ulkret/core/rep';
import { memo } from 'react';
import styled from 'styled-components';
import { narrow, sideways, upright } from './held';
import { late } from './late';
import { RepMark } from '../strand/RepMark';

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
  /* On a phone the advice says what was said, and the knots get the room. */
  ${narrow} {
    height: 50px;
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

interface LogBarProps {
  reps: readonly Rep[];
  said: string;
  nameOf: (id: string) => string;
  numberOf: (checkpoint: string, technique: string) => number;
  causeOf: (rep: Rep) => string | null;
  onUndo: (rep: Rep) => void;
  onAll: () => void;
  /** What else a rep of the open pair can say. */
  onPair: () => void;
}

/** What was just said, and the last five entries, each with its undo. */
export const LogBar = late(function LogBar({ reps, said, onAll, onPair, ...rest }: LogBarProps) {
  return (
    <Log>
      <Voice role="status">{said || 'Tap the knot where it stopped. Hold a knot that was soft.'}</Voice>
      <div>
        <button type="button" aria-label="This pair …" onClick={onPair}>
          Pair …
        </button>
        <button type="button" onClick={onAll}>
          All reps
        </button>
      </div>
      <ol aria-label="Last entries">
        {stepsOf(reps)
          .slice(-5)
          .reverse()
          .map((step) => (
            <LogEntry key={step[0]!.id} step={step} {...rest} />
          ))}
      </ol>
    </Log>
  );
});

type LogEntryProps = { step: readonly Rep[] } & Pick<
  LogBarProps,
  'nameOf' | 'numberOf' | 'causeOf' | 'onUndo'
>;

const LogEntry = memo(function LogEntry({ step, nameOf, numberOf, causeOf, onUndo }: LogEntryProps) {
  const rep = step.at(-1)!;
  const cause = causeOf(rep);
  const what = rep.outcome === 'stopped' ? `stopped at ${numberOf(rep.stop, rep.technique)}` : rep.outcome;
  return (
    <li>
      {step.map((one) => (
        <RepMark key={one.id} rep={one} numberOf={numberOf} />
      ))}
      {nameOf(rep.student)}
      {cause && <small>{cause}</small>}
      <button type="button" aria-label={`Undo ${nameOf(rep.student)} ${what}`} onClick={() => onUndo(rep)}>
        Undo
      </button>
    </li>
  );
});
