import { type Side } from '@ulkret/core/breakdown';
import { spanOf, type Rep } from '@ulkret/core/rep';
import { pairNow, paperMark, paperMarks, partnerOf, readPaper, sessionNow } from '@ulkret/core/session';
import { useState } from 'react';
import { Link } from 'react-router';
import { uuidv7 } from 'uuidv7';
import { useHere } from '../../api/signed-in';
import { Button } from '../../ui/button';
import { Head, Page, Panel, Quiet, Row } from '../../ui/frame';
import { DataTable } from '../../ui/data-table';
import { TextField } from '../../ui/text-field';
import { many } from '../../ui/words';
import { OfSession, type Opened } from '../OfSession';
import { stamp, useStanding } from '../../device/session-log';
import { Title } from '../../ui/title';
import { today } from '../../device/kit';
import { dateOf } from '../../ui/zone';

const sides: readonly Side[] = ['right', 'left'];

export default function PaperEntryPage() {
  return <OfSession>{(opened) => <PaperEntry {...opened} />}</OfSession>;
}

/** What was written on the sheet, a line for each student and side, read as it is typed. */
function PaperEntry({ work, breakdown, nameOf, technique }: Opened) {
  const { session } = work;
  const { rows, count, faulty, kept, write, keep } = useSheet({ work, breakdown, technique });
  return (
    <Page>
      <Head>
        <Title>From the sheet: {technique.name}</Title>
        <Link to={`/mat/${session.id}/after`}>Back</Link>
      </Head>
      <Panel>
        <p>
          {paperMarks.map(({ mark, means }, i) => (
            <span key={mark}>
              {i > 0 && ' · '}
              <strong>{mark}</strong> {means}
            </span>
          ))}
        </p>
        <DataTable
          label="the sheet"
          rows={rows}
          keyOf={({ key }) => key}
          wordsOf={({ student }) => nameOf(student)}
          columns={[
            { head: 'Attacks', cell: ({ student }) => nameOf(student) },
            { head: 'On', cell: ({ partner }) => partner && nameOf(partner) },
            { head: 'Lead', cell: ({ side }) => side },
            {
              head: 'Reps, in order',
              cell: ({ key, student, side, text }) => (
                <TextField
                  aria-label={`${nameOf(student)}, ${side} side`}
                  value={text}
                  autoComplete="off"
                  onChange={(marks) => write(key, marks)}
                />
              ),
            },
            {
              head: 'Read as',
              cell: ({ read, again, before }) => (
                <>
                  {read.endings.length > 0 && many(read.endings.length, 'rep')}
                  {read.faults.map(({ mark, reason }, i) => (
                    <span key={i} style={{ color: 'var(--stop)' }}>
                      {' '}
                      “{mark}”: {reason}.
                    </span>
                  ))}
                  {again && <span style={{ color: 'var(--soft)' }}> Already entered.</span>}
                  {before.length > 0 && <Quiet>{many(before.length, 'rep')} from paper so far</Quiet>}
                </>
              ),
            },
          ]}
        />
        <Row style={{ marginTop: '0.8rem' }}>
          <Button isDisabled={count === 0 || faulty.length > 0} onPress={keep}>
            Enter {many(count, 'rep')}
          </Button>
          {faulty.length > 0 && (
            <Quiet>Fix the marks that cannot be read. Nothing is entered until then.</Quiet>
          )}
          {count === 0 && kept > 0 && <p role="status">{many(kept, 'rep')} entered.</p>}
        </Row>
      </Panel>
    </Page>
  );
}

/** The lines of the sheet as they are typed, what they read as, and entering them. */
function useSheet({ work, breakdown, technique }: Pick<Opened, 'work' | 'breakdown' | 'technique'>) {
  const { session, add } = work;
  const log = useStanding(work);
  const { coach } = useHere();
  const [lines, setLines] = useState<Readonly<Record<string, string>>>({});
  const [kept, setKept] = useState(0);
  const now = sessionNow(session, log.changes);
  const rows = now.pairs.flatMap((pair) =>
    pair.flatMap((student) =>
      sides.map((side) => {
        const { span, rung } = pairNow(session, now, pair);
        const key = `${student} ${side}`;
        const text = lines[key] ?? '';
        const before = log.of(student).filter((rep) => rep.source === 'paper' && rep.side === side);
        const read = readPaper(text, breakdown, spanOf(breakdown, span));
        const again =
          read.endings.length > 0 &&
          before.length >= read.endings.length &&
          before
            .slice(-read.endings.length)
            .map((rep) => paperMark(breakdown, rep))
            .join(' ') === readBack(read.endings);
        return {
          key,
          student,
          side,
          rung,
          partner: partnerOf(pair, student),
          span,
          text,
          before,
          read,
          again,
        };
      }),
    ),
  );
  function readBack(endings: ReturnType<typeof readPaper>['endings']): string {
    return endings.map((ending) => paperMark(breakdown, ending as Rep)).join(' ');
  }
  const count = rows.reduce((sum, { read }) => sum + read.endings.length, 0);
  const faulty = rows.filter(({ read }) => read.faults.length > 0);
  // On paper nobody wrote when. A class that has ended, or is of an earlier day, has its own time: one rep after the other.
  const isOver = now.endedAt !== null || dateOf(Date.parse(session.startedAt)) < today();
  const paperTime = (nth: number): string => {
    if (!isOver) return stamp();
    const begun = Date.parse(session.startedAt);
    const end = Date.parse(now.endedAt ?? log.last.at(-1)?.at ?? '') || Infinity;
    return new Date(Math.min(begun + nth * 1000, end)).toISOString();
  };
  const keep = () => {
    const made = rows.flatMap((row) => row.read.endings.map((ending) => ({ ...row, ending })));
    made.forEach(({ student, side, partner, rung, span, ending }, nth) =>
      add({
        is: 'reps',
        fact: {
          id: uuidv7(),
          session: session.id,
          at: paperTime(nth),
          observer: coach.id,
          technique: technique.id,
          edition: breakdown.edition,
          student,
          partner,
          side,
          rung,
          ...span,
          soft: [],
          cause: null,
          source: 'paper',
          note: '',
          ...ending,
        },
      }),
    );
    setKept(count);
    setLines({});
  };
  const write = (key: string, marks: string) => setLines({ ...lines, [key]: marks });
  return { rows, count, faulty, kept, write, keep };
}
