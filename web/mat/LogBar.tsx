import type { Rep } from '@ulkret/core/rep';
import { memo } from 'react';
import { late } from './late';
import { Log, Voice } from './layout';
import { RepMark } from '../strand/RepMark';

interface LogBarProps {
  reps: readonly Rep[];
  said: string;
  nameOf: (id: string) => string;
  numberOf: (checkpoint: string) => number;
  onUndo: (rep: Rep) => void;
}

/** What was just said, and the last five entries, each with its undo. */
export const LogBar = late(function LogBar({ reps, said, ...rest }: LogBarProps) {
  return (
    <Log>
      <Voice role="status">{said || 'Tap early, release at once.'}</Voice>
      <ol aria-label="Last entries">
        {reps
          .slice(-5)
          .reverse()
          .map((rep) => (
            <LogEntry key={rep.id} rep={rep} {...rest} />
          ))}
      </ol>
    </Log>
  );
});

interface LogEntryProps {
  rep: Rep;
  nameOf: (id: string) => string;
  numberOf: (checkpoint: string) => number;
  onUndo: (rep: Rep) => void;
}

const LogEntry = memo(function LogEntry({ rep, nameOf, numberOf, onUndo }: LogEntryProps) {
  const what = rep.outcome === 'stopped' ? `stopped at ${numberOf(rep.stop)}` : rep.outcome;
  return (
    <li>
      <RepMark rep={rep} numberOf={numberOf} />
      {nameOf(rep.student)}
      <button type="button" aria-label={`Undo ${nameOf(rep.student)} ${what}`} onClick={() => onUndo(rep)}>
        Undo
      </button>
    </li>
  );
});
