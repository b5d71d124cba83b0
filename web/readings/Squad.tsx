import { endpoints, type OutputOf } from '@ulkret/contract';
import { type Breakdown, readFor } from '@ulkret/core/breakdown';
import type { CheckpointReading } from '@ulkret/core/reading';
import type { CSSProperties } from 'react';
import { VisuallyHidden } from 'react-aria/VisuallyHidden';
import { Link, useParams } from 'react-router';
import styled from 'styled-components';
import { useApi } from '../shell/api';
import { Empty, Loaded } from '../shell/states';
import { Head, Page, Quiet } from '../shell/ui';
import { many, percent, range } from '../shell/words';
import { MarkIcon } from '../strand/marks';
import { SliceControls, useSlice } from './slice';

const Scroll = styled.div`
  overflow-x: auto;
  background: var(--surface);
  border-radius: 8px;
  padding: 0.6rem 0.9rem;
`;

const Matrix = styled.table`
  width: 100%;
  th {
    font-weight: 550;
    text-align: left;
    vertical-align: bottom;
    padding: 0.3rem 0.4rem;
    line-height: 1.15;
  }
  tbody th {
    white-space: nowrap;
    vertical-align: middle;
  }
  thead th {
    font-size: 0.86rem;
    min-width: 6.2rem;
  }
  thead svg {
    display: block;
    margin-bottom: 0.2rem;
  }
  td {
    padding: 2px;
    height: 2.9rem;
  }
  tr[data-squad] td,
  tr[data-squad] th {
    border-bottom: 2px solid var(--line);
  }
`;

const Cell = styled(Link)`
  position: relative;
  display: grid;
  grid-template-columns: auto auto;
  align-items: baseline;
  justify-content: space-between;
  height: 100%;
  min-height: 2.7rem;
  padding: 0.25rem 0.5rem 0.45rem;
  border-radius: 5px;
  color: var(--ink);
  text-decoration: none;
  background:
    linear-gradient(var(--stop), var(--stop)) 0 100% / var(--share) 5px no-repeat,
    var(--raised);
  &[data-sparse] {
    background: repeating-linear-gradient(135deg, transparent 0 6px, var(--line) 6px 7px);
  }
  strong {
    font-weight: 600;
  }
  small {
    color: var(--muted);
  }
  &[data-first] {
    outline: 2.5px solid var(--stop);
    outline-offset: -2.5px;
  }
`;

export default function SquadPage() {
  const { technique: id = '' } = useParams();
  const slice = useSlice();
  const technique = useApi(endpoints.technique, { params: { id } });
  const students = useApi(endpoints.students);
  const readings = useApi(endpoints.readings, { query: { technique: id, ...slice.query } });
  const names = new Map(students.data?.students.map((one) => [one.id, one.name]));
  return (
    <Page>
      <Loaded of={technique} what="the breakdown">
        {({ technique: one, editions }) => (
          <>
            <Head>
              <div>
                <h1>Where do the squad’s reps end?</h1>
                <Quiet>
                  <Link to={`/library/${one.id}`}>{one.name}</Link>: of the reps that reach a checkpoint, the
                  share that ends there. Sorted by what one correction would gain; the checkpoint to correct
                  first is framed.
                </Quiet>
              </div>
              <SliceControls slice={slice} />
            </Head>
            <Loaded of={readings} what="the readings">
              {(read) =>
                read.students.length === 0 ? (
                  <Empty title="No rep fits these settings.">
                    <p>Choose another rung, side or date.</p>
                  </Empty>
                ) : (
                  <SquadMatrix
                    read={read}
                    breakdown={editions.at(-1)!}
                    nameOf={(student) => names.get(student) ?? student}
                    linkTo={(student, checkpoint) => {
                      const search = new URLSearchParams(slice.kept);
                      if (checkpoint) search.set('checkpoint', checkpoint);
                      return `/readings/${id}/${student}${search.size > 0 ? `?${search}` : ''}`;
                    }}
                  />
                )
              }
            </Loaded>
          </>
        )}
      </Loaded>
    </Page>
  );
}

interface MatrixProps {
  read: OutputOf<typeof endpoints.readings>;
  breakdown: Breakdown;
  nameOf: (student: string) => string;
  linkTo: (student: string, checkpoint?: string) => string;
}

function SquadMatrix({ read, breakdown, nameOf, linkTo }: MatrixProps) {
  const rows = read.students
    .map(({ reading, prescription }) => ({
      reading,
      first: prescription.kind === 'correct' ? prescription.checkpoint : null,
      gain: prescription.kind === 'correct' ? prescription.gain.value : -1,
    }))
    .sort((a, b) => b.gain - a.gain);
  const cells = (checkpoints: readonly CheckpointReading[], student: string, first: string | null) =>
    checkpoints.map((at) => (
      <td key={at.checkpoint}>
        <Cell
          to={linkTo(student, at.checkpoint)}
          style={{ '--share': `${at.hazard.value * 100}%` } as CSSProperties}
          data-sparse={!at.enough || undefined}
          data-first={at.checkpoint === first || undefined}
          title={`${at.failed} of ${at.reached} ended here; 80 % interval ${range(at.hazard)}`}
        >
          {at.enough ? (
            <strong>
              {percent(at.hazard.value)}
              <VisuallyHidden elementType="span">, {range(at.hazard)}, of </VisuallyHidden>
            </strong>
          ) : (
            <span>
              <span aria-hidden>?</span>
              <VisuallyHidden elementType="span">not enough yet, </VisuallyHidden>
            </span>
          )}
          <small>
            {at.reached}
            <VisuallyHidden elementType="span">
              {at.reached === 1 ? ' rep' : ' reps'}
              {at.checkpoint === first && ', correct first'}
            </VisuallyHidden>
          </small>
        </Cell>
      </td>
    ));
  return (
    <Scroll>
      <Matrix>
        <thead>
          <tr>
            <th>
              Student
              <br />
              <Quiet as="span">finish odds</Quiet>
            </th>
            {breakdown.checkpoints.map(({ id, kind, title }, i) => (
              <th key={id} scope="col">
                <MarkIcon kind={kind} size={18} />
                {i + 1} {readFor(title, 'right')}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          <tr data-squad>
            <th scope="row">
              <Link to={linkTo('squad')}>The squad</Link>{' '}
              <Quiet as="span">{percent(read.squad.finishOdds.value)}</Quiet>
            </th>
            {cells(read.squad.checkpoints, 'squad', null)}
          </tr>
          {rows.map(({ reading, first }) => (
            <tr key={reading.student}>
              <th scope="row">
                <Link to={linkTo(reading.student!)}>{nameOf(reading.student!)}</Link>{' '}
                <Quiet as="span" title={`${range(reading.finishOdds)} of ${many(reading.reps, 'rep')}`}>
                  {percent(reading.finishOdds.value)}
                </Quiet>
              </th>
              {cells(reading.checkpoints, reading.student!, first)}
            </tr>
          ))}
        </tbody>
      </Matrix>
      <Quiet style={{ marginTop: '0.6rem' }}>
        The small number is how many reps reached the checkpoint; hatched is not enough yet. Newer reps count
        more: half for each {read.halfLifeDays} days of age.
      </Quiet>
    </Scroll>
  );
}
