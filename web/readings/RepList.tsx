import type { Id } from '@ulkret/core/breakdown';
import type { Rep } from '@ulkret/core/rep';
import type { ReactNode } from 'react';
import styled from 'styled-components';
import { RepMark } from '../strand/RepMark';
import { Quiet } from '../ui/frame';
import { dayOf, timeOf } from '../ui/words';

/** Reps behind a number, one a line. */
export const RepList = styled.ol`
  margin: 0.6rem 0;
  li {
    display: grid;
    grid-template-columns: 2rem 5rem 9.5rem minmax(0, 1fr);
    gap: 0.5rem;
    align-items: center;
    padding: 0.3rem 0;
    border-bottom: 1px solid var(--line);
    font-size: 0.94rem;
  }
  @media (max-width: 640px) {
    li {
      grid-template-columns: 2rem 4rem minmax(0, 1fr);
      > :last-child {
        grid-column: 2 / -1;
      }
    }
  }
  b {
    font-weight: 600;
  }
  b[data-mood='failed'] {
    color: var(--stop);
  }
  b[data-mood='soft'] {
    color: var(--soft);
  }
`;

/** One rep behind a number: its mark, what it counts as, when it was, and its conditions. */
export const RepLine = ({
  rep,
  word,
  mood,
  name,
  nameOf,
  numberOf,
  children,
}: {
  rep: Rep;
  /** The rep's result for this number. */
  word: string;
  mood: 'held' | 'soft' | 'failed';
  /** The student's name, if the list is of several. */
  name?: string | undefined;
  nameOf: (id: Id) => string;
  numberOf: (checkpoint: Id, technique: Id) => number;
  /** More words about it. */
  children?: ReactNode;
}) => (
  <li>
    <RepMark rep={rep} numberOf={numberOf} />
    <b data-mood={mood}>{word}</b>
    <span>
      {dayOf(rep.at)}, {timeOf(rep.at)}
    </span>
    <Quiet as="span">
      {name !== undefined && `${name} `}
      {rep.partner && `on ${nameOf(rep.partner)}, `}
      {rep.side}, rung {rep.rung}
      {rep.note && ` “${rep.note}”`}
      {children}
    </Quiet>
  </li>
);
