import { endpoints } from '@ulkret/contract';
import type { Breakdown } from '@ulkret/core/breakdown';
import { openInjuries } from '@ulkret/core/people';
import { prescriptionWords } from '@ulkret/core/prescription';
import { Link } from 'react-router';
import styled from 'styled-components';
import { syncWords } from '../device/sync-state';
import { useSyncState } from '../device/use-outbox';
import { useDecisions, useFreshReadings, useOwnRates } from '../reader/use-reading';
import { RopeThumb } from '../strand/RopeThumb';
import { useApi } from '../api/use-api';
import { Loaded } from '../ui/states';
import { ButtonLink } from '../ui/button-link';
import { Columns, Head, Page, Panel, Quiet } from '../ui/frame';
import { dayOf, many } from '../ui/words';
import { Title } from '../ui/title';
import { CareFlags } from './CareFlags';
import { FirstSteps } from './FirstSteps';

const shown = 4;

const List = styled.ol`
  display: grid;
  gap: 0.4rem;
  margin-top: 0.7rem;
`;

/** The height of a thumbnail of the strand, in pixels. */
const thumbHeight = 44;

const Due = styled(Link)`
  display: grid;
  grid-template-columns: minmax(0, 17.5rem) minmax(0, 1fr);
  align-items: center;
  gap: 0 1.2rem;
  padding: 0.5rem 0.6rem;
  border-radius: 8px;
  color: var(--ink);
  text-decoration: none;
  line-height: 1.25;
  &:hover {
    background: var(--wash);
  }
  > :first-child {
    grid-row: 1 / 3;
  }
  strong {
    align-self: end;
    font-weight: 650;
  }
  > :last-child {
    align-self: start;
  }
  @media (max-width: 640px) {
    grid-template-columns: minmax(0, 1fr);
    > :first-child {
      grid-row: auto;
    }
  }
`;

export default function Today() {
  const sessions = useApi(endpoints.sessions);
  const students = useApi(endpoints.students);
  const sync = useSyncState();
  const last = sessions.data?.sessions[0];
  const now = new Date().toISOString();
  return (
    <Page>
      <Head>
        <Title>Today</Title>
        <ButtonLink to="/mat/new" $tall>
          Start a session
        </ButtonLink>
      </Head>
      <Loaded of={sessions} what="the sessions">
        {() =>
          last ? (
            <Columns $shares="minmax(0, 2fr) minmax(15rem, 1fr)">
              <Corrections technique={last.session.technique} />
              <div>
                <Panel>
                  <h2>Last on the mat</h2>
                  <p>
                    {dayOf(last.session.startedAt)}: {many(last.reps, 'rep')} by{' '}
                    {many(last.students, 'student')}.
                  </p>
                  <Link to={`/mat/${last.session.id}${last.session.endedAt === null ? '' : '/after'}`}>
                    Open it
                  </Link>
                </Panel>
                <Panel>
                  <h2>This device</h2>
                  <p>{syncWords(sync)}</p>
                </Panel>
                <CareFlags />
                {students.data && (
                  <Panel>
                    <h2>Open injuries</h2>
                    <ul>
                      {students.data.students.flatMap((student) =>
                        openInjuries(student, now).map(({ region, side, until, note }) => (
                          <li key={student.id + region}>
                            <strong>{student.name}</strong>: {side} {region}, until {dayOf(until)}. {note}
                          </li>
                        )),
                      )}
                    </ul>
                    {students.data.students.every((student) => openInjuries(student, now).length === 0) && (
                      <Quiet>None is recorded.</Quiet>
                    )}
                  </Panel>
                )}
              </div>
            </Columns>
          ) : (
            <>
              <CareFlags />
              <FirstSteps />
            </>
          )
        }
      </Loaded>
    </Page>
  );
}

/** The corrections of the technique drilled last that would gain most, each in its sentence. */
function Corrections({ technique: id }: { technique: string }) {
  const technique = useApi(endpoints.technique, { params: { id } });
  // What to correct first does not change with every rep.
  useFreshReadings(false);
  const decisions = useDecisions(id);
  const students = useApi(endpoints.students);
  const breakdown = technique.data?.editions.at(-1);
  const names = new Map(students.data?.students.map((student) => [student.id, student]));
  return (
    <Panel>
      <h2>Correct first{technique.data && `: ${technique.data.technique.name}`}</h2>
      <Quiet>One checkpoint each: the likeliest gain.</Quiet>
      <Loaded of={decisions} what="what to correct">
        {(decided) => {
          const due = [...decided]
            .flatMap(([student, prescription]) =>
              prescription.kind === 'correct' ? [{ student, prescription }] : [],
            )
            .sort((a, b) => b.prescription.gain.value - a.prescription.gain.value);
          const watch = [...decided.values()].filter(({ kind }) => kind === 'watch').length;
          return (
            <>
              <List>
                {breakdown &&
                  due.slice(0, shown).map(({ student: who, prescription }) => {
                    const student = names.get(who);
                    const words = prescriptionWords(
                      breakdown,
                      prescription,
                      student?.name ?? who,
                      student?.mainSide ?? 'right',
                    );
                    return (
                      <li key={who}>
                        <Due to={`/readings/${id}/${who}`}>
                          <span style={{ minHeight: thumbHeight }}>
                            <OwnRope breakdown={breakdown} student={who} marked={prescription.checkpoint} />
                          </span>
                          <strong>{words.what}</strong>
                          <Quiet as="span">
                            {prescription.failed} of {many(prescription.reached + prescription.open, 'rep')}{' '}
                            that got there were lost by it
                          </Quiet>
                        </Due>
                      </li>
                    );
                  })}
              </List>
              {due.length === 0 && <Quiet>Nobody has enough reps yet.</Quiet>}
              <p style={{ marginTop: '0.9rem' }}>
                <Link to={`/correct?technique=${id}`}>Decide for tonight</Link>,{' '}
                <Link to={`/readings/${id}`}>the whole squad</Link>
                {watch > 0 &&
                  `, of whom ${many(watch, 'student')} ${watch === 1 ? 'needs' : 'need'} more reps first`}
              </p>
            </>
          );
        }}
      </Loaded>
    </Panel>
  );
}

/** Where one student's reps end, small; nothing as long as nobody has said. */
function OwnRope({
  breakdown: { technique, checkpoints },
  student,
  marked,
}: {
  breakdown: Breakdown;
  student: string;
  marked: string;
}) {
  const own = useOwnRates(technique, student);
  return own && <RopeThumb knots={checkpoints} checkpoints={own.checkpoints} marked={marked} />;
}
