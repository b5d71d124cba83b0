import type { ChoicesReading } from '@ulkret/core/reading';
import { Fold } from '../ui/fold';
import { many } from '../ui/words';
import { RepLine, RepList } from './RepList';

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
      <RepList>
        {behind.map(({ rep, well: went }) => (
          <RepLine
            key={rep.id}
            word={went ? well[0] : well[1]}
            mood={went ? 'held' : 'failed'}
            name={nameOf(rep.student)}
            {...{ rep, nameOf, numberOf }}
          />
        ))}
      </RepList>
    )}
  </Fold>
);
