import { Link, useParams } from 'react-router';
import { Nobody } from '../ui/nobody';
import type { ReadingAnswer } from '../reader/asking';
import { useReading, type ReadingState } from '../reader/use-reading';
import { type Against, againstOf } from './against';
import { AgainstPick } from './AgainstPick';
import { type ReadingContext, NoReps, Read, ReadingFrame } from './Frame';
import { type Settings, useSettings } from './settings';

import { Found } from './StudentFound';
import { squad } from './squad-name';

export default function StudentPage() {
  const { technique: id = '', student = '' } = useParams();
  const settings = useSettings();
  // Asked for along with the breakdown and the roster, not after them.
  const against = againstOf(settings);
  const first = useReading(id, against?.first ?? settings.reads);
  const second = useReading(id, against?.second ?? null);
  const whose = (known: ReadingContext) => (student === squad ? 'the squad’s' : `${known.nameOf(student)}’s`);
  const isKnown = (known: ReadingContext) =>
    student === squad || known.students.some(({ id: someone }) => someone === student);
  return (
    <ReadingFrame
      technique={id}
      settings={settings}
      title={(known) => (isKnown(known) ? `Where do ${whose(known)} reps end?` : 'Student not found')}
      also={(known) =>
        student !== squad &&
        isKnown(known) && (
          <Link to={settings.to(`/people/${student}`)}>All that {known.nameOf(student)} drills</Link>
        )
      }
      more={<AgainstPick settings={settings} />}
    >
      {(known) =>
        isKnown(known) ? (
          <StudentRead {...{ known, settings, student, against, first, second }} />
        ) : (
          <Nobody
            or={
              <>
                read{' '}
                <Link to="../squad" relative="path">
                  the squad
                </Link>
              </>
            }
          />
        )
      }
    </ReadingFrame>
  );
}

function StudentRead({
  known,
  settings,
  student,
  against,
  first,
  second,
}: {
  known: ReadingContext;
  settings: Settings;
  student: string;
  against: Against | null;
  first: ReadingState<ReadingAnswer>;
  second: ReadingState<ReadingAnswer>;
}) {
  const of = ({ reading }: ReadingAnswer) =>
    student === squad ? reading.squad : reading.students.find((one) => one.student === student);
  return (
    <>
      <Read of={first}>
        {(answer) => {
          const own = of(answer);
          if (!own || own.reps === 0) return <NoReps settings={settings} />;
          const found = { known, settings, student, answer, reading: own };
          if (!against) return <Found {...found} />;
          return (
            <Read of={second} silent>
              {(other) => {
                const later = of(other);
                return later ? (
                  <Found {...found} against={{ ...against, reading: later }} />
                ) : (
                  <NoReps settings={settings} />
                );
              }}
            </Read>
          );
        }}
      </Read>
    </>
  );
}
