import { standingNotes } from '@ulkret/core/care';
import type { Rung } from '@ulkret/core/rep';
import { type SessionNow, sessionNow, summaryOf, workOf, workShort } from '@ulkret/core/session';
import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import { uuidv7 } from 'uuidv7';
import { syncWords } from '../../device/sync-state';
import { useSyncState } from '../../device/use-outbox';
import { useHere } from '../../api/signed-in';
import { Button } from '../../ui/button';
import { ButtonLink } from '../../ui/button-link';
import { Columns, Head, Page, Panel, Quiet, Row } from '../../ui/frame';
import { DataTable } from '../../ui/data-table';
import { TextField } from '../../ui/text-field';
import { dayOf, many, timeOf } from '../../ui/words';
import { OfSession, type Opened } from '../OfSession';
import { Questions } from './Questions';
import { type OpenSession, stamp, useStanding } from '../../device/session-log';
import { Title } from '../../ui/title';

export default function AfterPage() {
  return <OfSession>{(opened) => <After {...opened} />}</OfSession>;
}

/** The coach's own words about one person in this class, and those of the others. */
function PersonNotes({
  student,
  work,
  observerName,
}: {
  student: string;
  work: OpenSession;
  observerName: (id: string) => string;
}) {
  const { coach } = useHere();
  const [words, setWords] = useState('');
  const notes = useStanding(work).changes.flatMap(({ id, observer, set }) =>
    set.is === 'words' && set.about === student ? [{ id, observer, words: set.words }] : [],
  );
  /** Also when the field is left: what was written is never lost for want of a press. */
  const keep = () => {
    if (words.trim() === '') return;
    work.add({
      is: 'changes',
      fact: {
        id: uuidv7(),
        session: work.session.id,
        at: stamp(),
        observer: coach.id,
        set: { is: 'words', about: student, words: words.trim() },
      },
    });
    setWords('');
  };
  return (
    <>
      {notes.map((note) => (
        <p key={note.id}>
          {note.words} <small>({observerName(note.observer)})</small>
        </p>
      ))}
      <form
        style={{ display: 'flex', gap: '0.4rem' }}
        onSubmit={(event) => {
          event.preventDefault();
          keep();
        }}
      >
        <TextField
          aria-label={`A note on ${observerName(student)}`}
          placeholder="A note"
          value={words}
          maxLength={500}
          onChange={setWords}
          onBlur={keep}
        />
        {words.trim() !== '' && (
          <Button type="submit" $quiet>
            Keep
          </Button>
        )}
      </form>
    </>
  );
}

function After({ work, breakdown, technique, library, nameOf }: Opened) {
  const { session, add } = work;
  const log = useStanding(work);
  const { coach } = useHere();
  const sync = useSyncState();
  const now = useMemo(() => sessionNow(session, log.changes), [session, log.changes]);
  const reps = log.all();
  const summary = useMemo(() => summaryOf(now.pairs, reps, log.wordsOf), [now.pairs, reps, log]);
  const made = () => ({ id: uuidv7(), session: session.id, at: stamp(), observer: coach.id });
  const change = (is: 'end' | 'go on') => add({ is: 'changes', fact: { ...made(), set: { is } } });
  return (
    <Page>
      <Head>
        <div>
          <Title>{technique.name}</Title>
          <Quiet>
            {dayOf(session.startedAt)}, {timeOf(session.startedAt)}
            {now.endedAt && `–${timeOf(now.endedAt)}`} · {syncWords(sync)}
          </Quiet>
        </div>
        <Row>
          <ButtonLink to={`/mat/${session.id}`} $quiet>
            Back to the Mat
          </ButtonLink>
          <ButtonLink to={`/mat/${session.id}/paper`} $quiet>
            Enter from paper
          </ButtonLink>
          {now.endedAt ? (
            <Button $quiet onPress={() => change('go on')}>
              Reopen the class
            </Button>
          ) : (
            <Button onPress={() => change('end')}>End the class</Button>
          )}
        </Row>
      </Head>
      <Columns $shares="minmax(0, 3fr) minmax(0, 2fr)">
        <div>
          <Drilled {...{ work, breakdown, technique, nameOf, now, log, summary }} />
        </div>
        <div>
          <Questions
            untagged={summary.untagged}
            reps={reps}
            breakdownOf={(rep) =>
              rep.technique === technique.id ? breakdown : library.get(rep.technique)?.breakdown
            }
            wordsOf={log.wordsOf}
            nameOf={nameOf}
            onTell={(rep, told) => {
              const { session: _, ...tag } = made();
              add({ is: 'tags', fact: { ...tag, rep: rep.id, ...told } });
            }}
          />
          <StopsAndOverrides log={log} nameOf={nameOf} />
          <Panel>
            <h2>On paper</h2>
            <p>
              <Link to={`/mat/${session.id}/sheet`}>A wall sheet</Link>, for writing reps where devices should
              not be, and <Link to={`/mat/${session.id}/paper`}>a quick way to enter it</Link>.
            </p>
          </Panel>
        </div>
      </Columns>
    </Page>
  );
}

type Log = ReturnType<typeof useStanding>;

/** Who drilled what: counts, who was left out, and a row for each student. */
function Drilled({
  work,
  breakdown,
  technique,
  nameOf,
  now,
  log,
  summary,
}: Pick<Opened, 'work' | 'breakdown' | 'technique' | 'nameOf'> & {
  now: SessionNow;
  log: Log;
  summary: ReturnType<typeof summaryOf>;
}) {
  const { session } = work;
  const repsOf = ({ reps: { right, left } }: (typeof summary.people)[number]) => right + left;
  const never = summary.people.filter((one) => repsOf(one) === 0);
  const seldom = summary.people.filter((one) => one.seldomSeen && repsOf(one) > 0);
  const uneven = summary.people.filter(({ uneven: lopsided }) => lopsided);
  return (
    <Panel>
      <h2>What was drilled</h2>
      <p>
        {many(summary.reps, 'rep')}: {many(summary.finished, 'finish', 'finishes')},{' '}
        {many(summary.reps - summary.finished - summary.forced - summary.notJudged - summary.left, 'stop')},{' '}
        {summary.forced} forced, {summary.notJudged} not judged
        {summary.left > 0 && `, ${summary.left} switched technique`}.
      </p>
      {never.length > 0 && (
        <p>
          <strong>No reps:</strong> {never.map(({ student }) => nameOf(student)).join(', ')}.
        </p>
      )}
      {seldom.length > 0 && (
        <p>
          <strong>Too few reps:</strong>{' '}
          {seldom.map((one) => `${nameOf(one.student)} (${many(repsOf(one), 'rep')})`).join(', ')}.
        </p>
      )}
      {uneven.length > 0 && (
        <p>
          <strong>Mostly one side:</strong>{' '}
          {uneven
            .map(
              ({ student, reps: sides }) => `${nameOf(student)} (right ${sides.right}, left ${sides.left})`,
            )
            .join(', ')}
          .
        </p>
      )}
      <DataTable
        label="the class"
        rows={summary.people}
        keyOf={({ student }) => student}
        wordsOf={({ student }) => nameOf(student)}
        columns={[
          {
            head: 'Who',
            cell: ({ student }) => <Link to={`/readings/${technique.id}/${student}`}>{nameOf(student)}</Link>,
            by: ({ student }) => nameOf(student),
          },
          { head: 'Right', cell: ({ reps }) => reps.right, by: ({ reps }) => reps.right },
          { head: 'Left', cell: ({ reps }) => reps.left, by: ({ reps }) => reps.left },
          {
            head: 'Finished',
            cell: (one) => repsOf(one) > 0 && `${one.finished} of ${repsOf(one)}`,
            by: ({ finished }) => finished,
          },
          { head: 'As partner', cell: ({ asPartner }) => asPartner, by: ({ asPartner }) => asPartner },
          {
            head: 'Works on',
            cell: ({ student }) => {
              const rung = Math.max(session.rung, ...log.of(student).map((rep) => rep.rung)) as Rung;
              const works = workOf({ breakdown, prescribed: now.prescribed, log, rung }, student);
              return works && `${works.place + 1}: ${workShort(works)}`;
            },
          },
          {
            head: 'Notes',
            cell: ({ student }) => <PersonNotes student={student} work={work} observerName={nameOf} />,
          },
        ]}
      />
    </Panel>
  );
}

function StopsAndOverrides({ log, nameOf }: { log: Log; nameOf: (id: string) => string }) {
  const notes = standingNotes(log.notes);
  return (
    <Panel>
      <h2>Stops for safety</h2>
      {notes.length === 0 && <Quiet>None.</Quiet>}
      <ul>
        {notes.map((note) => (
          <li key={note.id}>
            <strong>{nameOf(note.person)}</strong>, {timeOf(note.at)}: {note.why}.{' '}
            {note.regions.length > 0 && `Rests ${note.regions.join(', ')} until ${note.until}. `}
            {note.words}
          </li>
        ))}
      </ul>
      {log.overrides.length > 0 && (
        <>
          <h3>Coach overrides</h3>
          <ul>
            {log.overrides.map(({ id, student, partner, reason }) => (
              <li key={id}>
                {nameOf(student)}
                {partner && ` on ${nameOf(partner)}`}: {reason}
              </li>
            ))}
          </ul>
        </>
      )}
    </Panel>
  );
}
