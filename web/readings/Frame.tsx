import { endpoints, type OutputOf } from '@ulkret/contract';
import type { Breakdown } from '@ulkret/core/breakdown';
import type { Student } from '@ulkret/core/people';
import { type ReactNode, useDeferredValue, useState } from 'react';
import { Link, NavLink } from 'react-router';
import styled from 'styled-components';
import { useApi } from '../api/use-api';
import { saveFile } from '../ui/save-file';
import { Empty, Failed, Loaded, Loading } from '../ui/states';
import { Button } from '../ui/button';
import { Head, Page, Quiet, Row } from '../ui/frame';
import { dayOf } from '../ui/words';
import type { ReadingAnswer } from '../reader/asking';
import { type ReadingState, useFreshReadings } from '../reader/use-reading';
import { type Settings } from './settings';
import { WhatIsRead } from './WhatIsRead';
import { NotPublished } from '../ui/not-published';
import { Title } from '../ui/title';

/** The data that every page of readings needs. */
export interface ReadingContext {
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
  also,
  more,
  children,
}: {
  technique: string;
  settings: Settings;
  title: (known: ReadingContext) => string;
  /** Another link, next to the usual ones. */
  also?: (known: ReadingContext) => ReactNode;
  /** More settings. */
  more?: ReactNode;
  children: (known: ReadingContext) => ReactNode;
}) {
  useFreshReadings();
  const technique = useApi(endpoints.technique, { params: { id } });
  const students = useApi(endpoints.students);
  return (
    <Page>
      <Loaded of={technique} what="the breakdown">
        {({ technique: one, editions }) => {
          const breakdown = editions.at(-1);
          if (!breakdown) return <NotPublished id={id} />;
          return (
            <Loaded of={students} what="the roster">
              {({ students: list }) => {
                const names = new Map(list.map((student) => [student.id, student.name]));
                const known: ReadingContext = {
                  technique: one,
                  breakdown,
                  students: list,
                  nameOf: (student) => names.get(student) ?? student,
                };
                return (
                  <>
                    <Head>
                      <div>
                        <Title>{title(known)}</Title>
                        <Quiet>
                          <Link to={`/library/${id}`}>{one.name}</Link>
                        </Quiet>
                      </div>
                      <Tabs aria-label="Readings of this technique">
                        <NavLink to={settings.to(`/readings/${id}`)} end>
                          The squad
                        </NavLink>
                        {also?.(known)}
                        <NavLink to={settings.to(`/readings/${id}/variants`)}>Variants</NavLink>
                        <NavLink to={settings.to(`/readings/${id}/answers`)}>Answers</NavLink>
                        <NavLink to={settings.to(`/readings/${id}/weights`)}>Your weights</NavLink>
                        <NavLink to={settings.to('/readings')} end>
                          All techniques
                        </NavLink>
                      </Tabs>
                    </Head>
                    <Row style={{ alignItems: 'start' }}>
                      <WhatIsRead settings={settings} />
                      {more}
                    </Row>
                    {children(known)}
                  </>
                );
              }}
            </Loaded>
          );
        }}
      </Loaded>
    </Page>
  );
}

/** What is read, with a line that says whether it is the last word. Of the same height either way. */
const Reads = styled.div`
  display: contents;
  &[data-refined] > * {
    animation: refined 900ms ease-out;
  }
  @keyframes refined {
    from {
      background-color: var(--wash);
    }
  }
`;

/**
 * A reading in one of its states: on its way, failed, or there. The plain numbers are shown first; that the full ones have
 * taken their place is marked for a moment. What is there stays while newer is made.
 */
export function Read<T extends Pick<ReadingAnswer, 'settings'>>({
  of: { data: latest, error, refining: awaited, mutate, isLoading },
  silent = false,
  children,
}: {
  of: ReadingState<T>;
  /** Another one says already how far it is. */
  silent?: boolean;
  children: (answer: T) => ReactNode;
}) {
  // A squad is hundreds of cells: they are drawn in slices, so that the page answers in between.
  const data = useDeferredValue(latest, undefined);
  // The words describe the numbers that are drawn.
  const refining = useDeferredValue(awaited);
  const [wasPlain, setWasPlain] = useState(false);
  if (refining && !wasPlain) setWasPlain(true);
  const trouble = error && <Failed error={error} retry={mutate} />;
  if (!data) return trouble ?? <Loading what="the reading" />;
  return (
    <>
      {trouble}
      {!silent && (
        <Quiet role="status" data-testid="reading-state">
          {refining
            ? 'Counted so far; the full reading is loading.'
            : data.settings.method === 'full'
              ? 'Full reading.'
              : 'By count.'}
        </Quiet>
      )}
      <Reads aria-busy={isLoading} data-refined={(wasPlain && !refining) || undefined}>
        {children(data)}
      </Reads>
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
  /** The reading, where there is one: some pages have to ask for the whole of it first. */
  answer?: ReadingAnswer | (() => Promise<ReadingAnswer>);
}) {
  return (
    <Row>
      <Button
        $quiet
        onPress={async () => {
          const { writeTableCsv } = await import('@ulkret/core/formats');
          saveFile(`${name}.csv`, writeTableCsv(columns, rows()), 'text/csv');
        }}
      >
        Table as CSV
      </Button>
      {answer && (
        <Button
          $quiet
          onPress={async () => {
            const { settings, reading } = typeof answer === 'function' ? await answer() : answer;
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
    Plain: each checkpoint on its own. Full: all techniques together, corrected for rung, side and partner.
    Both lean on the squad when reps are few.
  </Quiet>
);

/** The weighting of reps by age, in words. */
export const weighed = ({
  halfLifeDays,
  since,
}: Pick<ReadingAnswer['settings'], 'halfLifeDays' | 'since'>): string =>
  (halfLifeDays > 1e6 ? 'All reps count equally' : `Older reps count less: half after ${halfLifeDays} days`) +
  (since ? `, since the week of ${dayOf(since)}.` : ', from the beginning.');

/** Where the settings leave nothing to read. */
export function NoReps({ settings }: { settings: Settings }) {
  return (
    <Empty title="No reps match.">
      <p>Change the rung, side, partner or date.</p>
      {settings.reads.period.weeks > 0 && (
        <Row style={{ marginTop: '0.8rem' }}>
          <Button onPress={() => settings.set('weeks', '0')}>Read all weeks</Button>
        </Row>
      )}
    </Empty>
  );
}
