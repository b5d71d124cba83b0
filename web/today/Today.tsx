import { endpoints, type SessionRow } from '@ulkret/contract';
import { openInjuries } from '@ulkret/core/people';
import { Link } from 'react-router';
import { clock } from '../api/clock';
import { useHere } from '../api/signed-in';
import { useApi } from '../api/use-api';
import { OfflineNotice } from '../device/OfflineNotice';
import { openClasses } from '../device/open-classes';
import { syncWords } from '../device/sync-state';
import { useSyncState } from '../device/use-outbox';
import { ButtonLink } from '../ui/button-link';
import { Columns, Head, Page, Panel, Quiet, Row } from '../ui/frame';
import { Loaded } from '../ui/states';
import { Title } from '../ui/title';
import { dayOf, many, timeOf } from '../ui/words';
import { CareFlags } from './CareFlags';
import { Corrections } from './Corrections';
import { FirstSteps } from './FirstSteps';
import { Notable } from './Notable';

/** Techniques drilled in these weeks are looked at, this many at most. */
const recentMs = 4 * 7 * 86_400_000;
const mostTechniques = 3;

/** The techniques of the last weeks, the one with most reps first; those of the last class where nothing is as recent. */
function recentTechniques(rows: readonly SessionRow[]): string[] {
  const since = clock.now() - recentMs;
  const recent = rows.filter(({ session }) => Date.parse(session.startedAt) >= since);
  const reps = new Map<string, number>();
  for (const { session, reps: n } of recent.length > 0 ? recent : rows.slice(0, 1))
    reps.set(session.technique, (reps.get(session.technique) ?? 0) + n);
  return [...reps]
    .sort(([, a], [, b]) => b - a)
    .slice(0, mostTechniques)
    .map(([id]) => id);
}

export default function Today() {
  const sessions = useApi(endpoints.sessions);
  const students = useApi(endpoints.students);
  const sync = useSyncState();
  const { coach } = useHere();
  const now = new Date().toISOString();
  const rows = sessions.data?.sessions ?? [];
  const { running } = openClasses(rows.map(({ session }) => session));
  const [first] = running;
  return (
    <Page>
      <Head>
        <Title>Today</Title>
        <Row>
          {first && (
            <ButtonLink to={`/mat/${first.id}`} $tall>
              Join the class
            </ButtonLink>
          )}
          <ButtonLink to="/mat/new" $tall $quiet={first !== undefined}>
            Set up a class
          </ButtonLink>
        </Row>
      </Head>
      <OfflineNotice />
      <Loaded of={sessions} what="the classes">
        {() =>
          rows.length > 0 ? (
            <Columns $shares="minmax(0, 2fr) minmax(15rem, 1fr)">
              <Corrections techniques={recentTechniques(rows)} />
              <div>
                <Classes rows={rows} />
                <Panel>
                  <h2>This device</h2>
                  <p>{syncWords(sync)}</p>
                </Panel>
                <CareFlags />
                {coach.role === 'head' && <Notable />}
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
                      <Quiet>None</Quiet>
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

/** The classes that run, those that were left open, and the last one. */
function Classes({ rows }: { rows: readonly SessionRow[] }) {
  const techniques = useApi(endpoints.techniques);
  const nameOf = (id: string) =>
    techniques.data?.techniques.find(({ technique }) => technique.id === id)?.technique.name ?? 'A class';
  const { running, leftOpen } = openClasses(rows.map(({ session }) => session));
  const rowOf = new Map(rows.map((row) => [row.session.id, row]));
  const last = rows.find(({ session }) => session.endedAt !== null);
  const counts = (id: string) => {
    const row = rowOf.get(id);
    return row ? `${many(row.reps, 'rep')} by ${many(row.students, 'student')}` : '';
  };
  return (
    <>
      {running.length > 0 && (
        <Panel>
          <h2>On the mat now</h2>
          <ul>
            {running.map(({ id, technique, startedAt }) => (
              <li key={id}>
                <Link to={`/mat/${id}`}>{nameOf(technique)}</Link>, since {timeOf(startedAt)}: {counts(id)}.
              </li>
            ))}
          </ul>
        </Panel>
      )}
      {leftOpen.length > 0 && (
        <Panel>
          <h2>Never ended</h2>
          <ul>
            {leftOpen.map(({ id, technique, startedAt }) => (
              <li key={id}>
                <Link to={`/mat/${id}/after`}>
                  {nameOf(technique)}, {dayOf(startedAt)}
                </Link>
                : {counts(id)}.
              </li>
            ))}
          </ul>
        </Panel>
      )}
      {last && (
        <Panel>
          <h2>Last on the mat</h2>
          <p>
            {dayOf(last.session.startedAt)}: {many(last.reps, 'rep')} by {many(last.students, 'student')}.
          </p>
          <Link to={`/mat/${last.session.id}/after`}>Open it</Link>
        </Panel>
      )}
    </>
  );
}
