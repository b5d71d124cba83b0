import type { ChoicesReading } from '@ulkret/core/reading';
import styled from 'styled-components';
import { RepMark } from '../strand/RepMark';
import { Fold } from '../ui/fold';
import { Quiet } from '../ui/frame';
import { dayOf, many, timeOf } from '../ui/words';

const List = styled.ol`
  li {
    display: grid;
    grid-template-columns: 2rem 5rem 9.5rem minmax(0, 1fr);
    gap: 0.5rem;
    align-items: center;
    padding: 0.3rem 0;
    border-bottom: 1px solid var(--line);
  }
  b[data-lost] {
    color: var(--stop);
  }
`;

/** The reps that a figure of choices is made of, the latest first, folded up. */
export const Behind = ({
  behind,
  of,
  well,
  nameOf,
  numberOf,
}: {
  behind: ChoicesReading['sequence']['doors'][number]['behind'];
  /** How many there are; the latest of them are listed. */
  of: number;
  /** What went well and what did not, in a word each. */
  well: readonly [yes: string, no: string];
  nameOf: (id: string) => string;
  numberOf: (checkpoint: string, technique: string) => number;
}) => (
  <Fold says={behind.length < of ? `The latest ${behind.length} of ${many(of, 'rep')}` : many(of, 'rep')}>
    {() => (
      <List>
        {behind.map(({ rep, well: went }) => (
          <li key={rep.id}>
            <RepMark rep={rep} numberOf={numberOf} />
            <b data-lost={!went || undefined}>{went ? well[0] : well[1]}</b>
            <span>
              {dayOf(rep.at)}, {timeOf(rep.at)}
            </span>
            <Quiet as="span">
              {nameOf(rep.student)}
              {rep.partner && ` on ${nameOf(rep.partner)}`}, {rep.side}, rung {rep.rung}
            </Quiet>
          </li>
        ))}
      </List>
    )}
  </Fold>
);
