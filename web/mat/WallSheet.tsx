import { readFor } from '@ulkret/core/breakdown';
import { partnerOf, paperMarks, sessionNow } from '@ulkret/core/session';
import { Link } from 'react-router';
import styled from 'styled-components';
import { Button } from '../ui/button';
import { Head, Page } from '../ui/frame';
import { dayOf, timeOf } from '../ui/words';
import { OfSession, type Opened } from './OfSession';
import { useStanding } from '../device/session-log';
import { Title } from '../ui/title';

const Paper = styled.div`
  background: #fff;
  color: #000;
  padding: 1.2rem;
  display: grid;
  gap: 0.8rem;
  ol {
    columns: 2;
    list-style: decimal inside;
  }
  table {
    width: 100%;
    border: 1.5px solid #000;
  }
  th,
  td {
    border: 1px solid #000;
    padding: 0.25rem 0.4rem;
    text-align: left;
    height: 2.1rem;
  }
  td.box {
    width: 2.1rem;
    min-width: 1.4rem;
  }
  @media print {
    padding: 0;
    font-size: 10pt;
    tr {
      break-inside: avoid;
    }
  }
`;

export default function WallSheetPage() {
  return <OfSession>{(opened) => <WallSheet {...opened} />}</OfSession>;
}

/** A sheet for the wall: a row for each student and side, a box for each rep, black on white. */
function WallSheet({ work, breakdown, technique, nameOf }: Opened) {
  const { session } = work;
  const log = useStanding(work);
  const { pairs } = sessionNow(session, log.changes);
  const boxes = session.repsPerSide ?? 10;
  return (
    <Page>
      <Head data-screen>
        <Link to={`/mat/${session.id}/after`}>Back</Link>
        <Button onPress={() => window.print()}>Print</Button>
      </Head>
      <Paper>
        <Title>{technique.name}</Title>
        <p>
          {dayOf(session.startedAt)}, {timeOf(session.startedAt)} · rung {session.rung} · tap early, release
          at once
        </p>
        <ol>
          {breakdown.checkpoints.map(({ id, title }) => (
            <li key={id}>{readFor(title, 'right')}</li>
          ))}
        </ol>
        <p>
          Write in each box:{' '}
          {paperMarks.map(({ mark, means }, i) => (
            <span key={mark}>
              {i > 0 && ' · '}
              <strong>{mark}</strong> {means}
            </span>
          ))}
        </p>
        <table>
          <thead>
            <tr>
              <th>Attacks</th>
              <th>On</th>
              <th>Lead</th>
              <th colSpan={boxes}>Reps</th>
            </tr>
          </thead>
          <tbody>
            {pairs.flatMap((pair) =>
              pair.flatMap((student) =>
                (['right', 'left'] as const).map((side) => {
                  const partner = partnerOf(pair, student);
                  return (
                    <tr key={student + side}>
                      <td>{nameOf(student)}</td>
                      <td>{partner && nameOf(partner)}</td>
                      <td>{side}</td>
                      {Array.from({ length: boxes }, (_, i) => (
                        <td key={i} className="box" />
                      ))}
                    </tr>
                  );
                }),
              ),
            )}
          </tbody>
        </table>
      </Paper>
    </Page>
  );
}
