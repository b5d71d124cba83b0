import { endpoints, type OutputOf } from '@ulkret/contract';
import type { Breakdown } from '@ulkret/core/breakdown';
import { writeTableCsv } from '@ulkret/core/formats';
import type { Student } from '@ulkret/core/people';
import { type ReactNode, useDeferredValue } from 'react';
import { Link, NavLink } from 'react-router';
import styled from 'styled-components';
import { useApi } from '../api/use-api';
import { saveFile } from '../ui/save-file';
import { Empty, Failed, Loaded, Loading } from '../ui/states';
import { Button, Head, Page, Panel, Quiet, Row } from '../ui/ui';
import { dayOf } from '../ui/words';
import type { Answer } from '../reader/reader';
import { Cancelled, type ReadingState, useFreshReadings } from '../reader/use-reading';
import { type Settings, SettingsBar } from './settings';

/** What every page of readings stands on. */
export interface Known {
  technique: OutputOf<typeof endpoints.technique>['technique'];
  breakdown: Breakdown;
  students: Student[];
  nameOf: (student: string) => string;
}

const Tabs = styled.nav`
  display: flex;
  flex-wrap: wrap;
  gap: 0.3rem 1.4rem;
  a {
    padding: 0.35rem 0;
    text-decoration: none;
    border-bottom: 3px solid transparent;
  }
  a[aria-current='page'] {
    border-color: var(--action);
    font-weight: 650;
  }
`;

/** A page about one technique: its title, what leads elsewhere, the settings, and below them what was read. */
export function ReadingFrame({
  technique: id,
  settings,
  title,
  children,
}: {
  technique: string;
  settings: Settings;
  title: (known: Known) => string;
  children: (known: Known) => ReactNode;
}) {
  useFreshReadings();
  const technique = useApi(endpoints.technique, { params: { id } });
  const students = useApi(endpoints.students);
  return (
    <Page>
      <Loaded of={technique} what="the breakdown">
        {({ technique: one, editions }) => (
          <Loaded of={students} what="the roster">
            {({ students: list }) => {
              const names = new Map(list.map((student) => [student.id, student.name]));
              const known: Known = {
                technique: one,
                breakdown: editions.at(-1)!,
                students: list,
                nameOf: (student) => names.get(student) ?? student,
              };
              return (
                <>
                  <Head>
                    <div>
                      <h1>{title(known)}</h1>
                      <Quiet>
                        <Link to={`/library/${id}`}>{one.name}</Link>
                      </Quiet>
                    </div>
                    <Tabs aria-label="Readings of this technique">
                      <NavLink to={settings.to(`/readings/${id}`)} end>
                        The squad
                      </NavLink>
                      <NavLink to={settings.to(`/readings/${id}/beliefs`)}>What we believe</NavLink>
                      <NavLink to={settings.to('/readings')} end>
                        All techniques
                      </NavLink>
                    </Tabs>
                  </Head>
                  <SettingsBar settings={settings} />
                  {children(known)}
                </>
              );
            }}
          </Loaded>
        )}
      </Loaded>
    </Page>
  );
}

const Bar = styled.progress`
  width: 14rem;
  height: 0.7rem;
  accent-color: var(--action);
`;

function Progress({ share, cancel }: { share: number; cancel: () => void }) {
  return (
    <Panel role="status">
      <Row>
        <span>Fitting the whole academy …</span>
        <Bar value={share} max={1} aria-label="How far the fit is" />
        <Button $quiet onPress={cancel}>
          Stop
        </Button>
      </Row>
    </Panel>
  );
}

/** A reading in one of its states: being fitted, stopped, failed, or there; what is there stays while newer is made. */
export function Read({
  of: { data: latest, error, progress, cancel, mutate, isLoading },
  plainly,
  children,
}: {
  of: ReadingState;
  plainly: () => void;
  children: (answer: Answer) => ReactNode;
}) {
  // A squad is hundreds of cells: they are drawn in slices, so that the page answers meanwhile.
  const data = useDeferredValue(latest, undefined);
  const trouble =
    error instanceof Cancelled ? (
      <Panel role="alert">
        <h2>{error.message}</h2>
        <p>The plain reading needs no fit.</p>
        <Row style={{ marginTop: '0.8rem' }}>
          <Button onPress={plainly}>Read plainly</Button>
          <Button $quiet onPress={() => void mutate()}>
            Fit again
          </Button>
        </Row>
      </Panel>
    ) : (
      error && <Failed error={error} retry={() => void mutate()} />
    );
  if (!data)
    return (
      trouble ??
      (progress === null ? <Loading what="the reading" /> : <Progress share={progress} cancel={cancel} />)
    );
  return (
    <>
      {trouble}
      {progress !== null && <Progress share={progress} cancel={cancel} />}
      <div aria-busy={isLoading} style={{ display: 'contents' }}>
        {children(data)}
      </div>
    </>
  );
}

type TableRow = readonly (string | number | null)[];

/** Files of what a page shows: its table as CSV, and the reading with its settings as JSON. */
export function Exports({
  name,
  columns,
  rows,
  answer,
}: {
  name: string;
  columns: readonly string[];
  rows: () => readonly TableRow[];
  answer?: Answer;
}) {
  return (
    <Row>
      <Button $quiet onPress={() => saveFile(`${name}.csv`, writeTableCsv(columns, rows()), 'text/csv')}>
        Table as CSV
      </Button>
      {answer && (
        <Button
          $quiet
          onPress={() => {
            const { settings, reading } = answer;
            const file = { format: 'ulkret.reading/2', settings, reading };
            saveFile(`${name}.json`, JSON.stringify(file, null, 2), 'application/json');
          }}
        >
          Reading as JSON
        </Button>
      )}
    </Row>
  );
}

/** Why the two ways of reading differ. */
export const WhyTwo = () => (
  <Quiet>
    The plain reading counts each checkpoint by itself, leaning a little on the squad’s rate: few reps swing
    it, and a hard rung looks like a weak student. The full reading fits all techniques at once, sets rungs,
    sides and partners apart, and tells everybody’s hazard for the same mix of them, leaning on the squad the
    more the fewer reps there are.
  </Quiet>
);

/** How reps were weighed by age, in words. */
export const weighed = ({
  halfLifeDays,
  since,
}: Pick<Answer['settings'], 'halfLifeDays' | 'since'>): string =>
  (halfLifeDays > 1e6
    ? 'All reps count alike'
    : `Newer reps count more: half for each ${halfLifeDays} days of age`) +
  (since ? `, since the week of ${dayOf(since)}.` : ', from the beginning.');

/** Where the settings leave nothing to read. */
export function NoReps({ settings }: { settings: Settings }) {
  return (
    <Empty title="No rep fits these settings.">
      <p>Choose another rung, side, partner or date, or drill some.</p>
      {settings.asked.period.weeks > 0 && (
        <Row style={{ marginTop: '0.8rem' }}>
          <Button onPress={() => settings.set('weeks', '0')}>Read all weeks</Button>
        </Row>
      )}
    </Empty>
  );
}
