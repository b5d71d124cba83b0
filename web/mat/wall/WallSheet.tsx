import { placeOf, readFor, type Side } from '@ulkret/core/breakdown';
import { type Pair, pairNow, partnerOf, paperMarks, sessionNow } from '@ulkret/core/session';
import { Link } from 'react-router';
import styled from 'styled-components';
import { Button } from '../../ui/button';
import { Head, Page } from '../../ui/frame';
import { dayOf, timeOf } from '../../ui/words';
import { OfSession, type Opened } from '../OfSession';
import { useStanding } from '../../device/session-log';
import { Title } from '../../ui/title';

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
  small {
    display: block;
    line-height: 1.15;
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
function WallSheet({ work, breakdown, technique, rules, nameOf }: Opened) {
  const { session } = work;
  const log = useStanding(work);
  const now = sessionNow(session, log.changes);
  const { pairs, prescribed } = now;
  const titled = (checkpoint: string, side: Side) => {
    const at = placeOf(breakdown, checkpoint);
    return at < 0 ? checkpoint : `${at + 1} ${readFor(breakdown.checkpoints[at]!.title, side)}`;
  };
  /** What is agreed for who attacks, and what was chosen for the pair: each in a line. */
  const linesOf = (pair: Pair, student: string, side: Side): string[] => {
    const works = prescribed.find((one) => one.student === student);
    const own = pairNow(session, now, pair);
    const task = own.task?.task ?? [];
    const chosen = own.ways ?? [];
    const calledIn = (list: readonly { id: string; title: string }[], ids: readonly string[]) =>
      list.filter(({ id }) => ids.includes(id)).map(({ title }) => readFor(title, side));
    const plays = calledIn(breakdown.defences, task);
    const variants = breakdown.checkpoints.flatMap((one) => one.variants);
    const used = variants.filter(({ id }) => chosen.includes(id)).map(({ name }) => readFor(name, side));
    return [
      ...(works ? [`works on ${titled(works.checkpoint, side)}`] : []),
      ...(used.length > 0 ? [`way: ${used.join(', ')}`] : []),
      ...(plays.length > 0 ? [`partner plays: ${plays.join(' or ')}`] : []),
    ];
  };
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
          {dayOf(session.startedAt)}, {timeOf(session.startedAt)} · rung {session.rung}. {rules.tap}
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
                      <td>
                        {nameOf(student)}
                        {linesOf(pair, student, side).map((line) => (
                          <small key={line}>{line}</small>
                        ))}
                      </td>
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
