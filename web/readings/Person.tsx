import { endpoints, type TechniqueRow } from '@ulkret/contract';
import type { Prescription } from '@ulkret/core/prescription';
import type { Student } from '@ulkret/core/people';
import { Link, useParams } from 'react-router';
import { useMay } from '../api/may';
import { addressOf } from '../api/ask';
import { useApi } from '../api/use-api';
import { useDecidedOn, useFreshReadings, useRoom } from '../reader/use-reading';
import { Head, Page, Quiet, Row } from '../ui/frame';
import { Nobody } from '../ui/nobody';
import { Empty, Loaded } from '../ui/states';
import { Title } from '../ui/title';
import { Attendance } from './Attendance';
import { atKnot, Doors } from './Doors';
import { Read } from './Frame';
import { Notes } from './Notes';
import { useSettings } from './settings';
import { WhatIsRead } from './WhatIsRead';
import { WhoTheyAre } from './WhoTheyAre';

/** Every technique that one student has drilled as their own frayed strand, with what to correct first on each. */
export default function PersonPage() {
  const { student: id = '' } = useParams();
  useFreshReadings();
  const decides = useMay('coach');
  const students = useApi(endpoints.students);
  const techniques = useApi(endpoints.techniques);
  return (
    <Page>
      <Loaded of={students} what="the roster">
        {({ students: list }) => {
          const student = list.find((one) => one.id === id);
          if (!student) return <Nobody />;
          return (
            <>
              <Head>
                <div>
                  <Title>Where do {student.name}’s reps end?</Title>
                  <Quiet>
                    Across everything {student.name} has drilled; the knot to correct first is marked.
                  </Quiet>
                </div>
                <Row>
                  <Link to={`/correct/card/${id}`}>Their card</Link>
                  {decides && (
                    <a href={addressOf(endpoints.exportWeeks, { query: { student: id } })} download>
                      Their weeks as a calendar
                    </a>
                  )}
                </Row>
              </Head>
              <Loaded of={techniques} what="the library">
                {({ techniques: rows }) => (
                  <>
                    <OnEach student={student} rows={rows.filter(({ reps }) => reps > 0)} />
                    <WhoTheyAre student={student} />
                    <Notes student={student} />
                    <Attendance student={student} rows={rows} />
                  </>
                )}
              </Loaded>
            </>
          );
        }}
      </Loaded>
    </Page>
  );
}

function OnEach({ student, rows }: { student: Student; rows: readonly TechniqueRow[] }) {
  const settings = useSettings();
  const ids = rows.map(({ technique }) => technique.id);
  const read = useRoom(ids, settings.reads, student.id);
  const decided = useDecidedOn(ids, student.id);
  const none = (
    <Empty title={`No reps of ${student.name} match.`}>
      <p>
        <Link to="/mat/new">Set up a class</Link>, or read more weeks.
      </p>
    </Empty>
  );
  if (rows.length === 0) return none;
  return (
    <>
      <WhatIsRead settings={settings} />
      <Read of={read}>
        {({ techniques }) => {
          const behind = rows.flatMap((row) => {
            const rates = techniques.get(row.technique.id)?.reading.students[0];
            return rates ? [{ row, rates }] : [];
          });
          if (behind.length === 0) return none;
          return (
            <Doors
              behind={behind}
              to={(technique) => settings.to(`/readings/${technique}/${student.id}`)}
              marked={({ row }) => {
                const first = decided?.get(row.technique.id);
                return first?.kind === 'correct' ? first.checkpoint : undefined;
              }}
              says={({ row }) => told(row, decided?.get(row.technique.id))}
            />
          );
        }}
      </Read>
    </>
  );
}

/** The correction on a technique in one line; undefined until it is known. */
const told = (row: TechniqueRow, first: Prescription | undefined): string | undefined =>
  first?.kind === 'correct'
    ? `To correct first: ${atKnot(row.strand, first.checkpoint)}`
    : first?.kind === 'watch'
      ? 'Not enough reps yet to say what to correct first.'
      : undefined;
