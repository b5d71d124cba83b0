import { endpoints } from '@ulkret/contract';
import { answersOf, doorsOf, readFor, numberOf } from '@ulkret/core/breakdown';
import {
  type AnswersReading,
  type ChoicesReading,
  sideGapAbove,
  type SequenceReading,
} from '@ulkret/core/reading';
import { useParams } from 'react-router';
import { useApi } from '../api/use-api';
import { usePositionName } from '../reader/use-position-name';
import { DataTable } from '../ui/data-table';
import { Fold } from '../ui/fold';
import { Panel, Quiet } from '../ui/frame';
import { Empty, Loaded } from '../ui/states';
import { Estimate } from '../ui/estimate';
import { many, percent, range, sure } from '../ui/words';
import { Behind } from './Behind';
import { choicesQuery, numberIn } from './choices';
import { type ReadingContext, ReadingFrame } from './Frame';
import { useSettings } from './settings';

/** What works against each defence, and how a technique ends where people go on from it. */
export default function AnswersPage() {
  const { technique: id = '' } = useParams();
  const settings = useSettings();
  const choices = useApi(endpoints.choices, { query: choicesQuery(id, settings) });
  const library = useApi(endpoints.techniques);
  const titleOf = (technique: string) =>
    library.data?.techniques.find((row) => row.technique.id === technique)?.technique.name ?? technique;
  return (
    <ReadingFrame technique={id} settings={settings} title={() => 'What works against each defence?'}>
      {(known) => (
        <Loaded of={choices} what="the answers">
          {({ answers, sequence, entries, finishes }) => (
            <>
              <Sequence sequence={sequence} known={known} titleOf={titleOf} />
              <HowItBegan entries={entries} known={known} />
              <HowItEnded finishes={finishes} known={known} />
              {answers.length === 0 ? (
                <Empty title="No defences yet.">
                  <p>
                    On the Mat, open the pair and choose what the partner plays; then one tap says how they
                    answered.
                  </p>
                </Empty>
              ) : (
                <>
                  {answers.map((one) => (
                    <Against key={one.defence} of={one} known={known} />
                  ))}
                  <HowCounted />
                </>
              )}
            </>
          )}
        </Loaded>
      )}
    </ReadingFrame>
  );
}

function Sequence({
  sequence: { begun, byItself, finished, open, alone, together, doors },
  known: { technique, breakdown, nameOf },
  titleOf,
}: {
  sequence: SequenceReading;
  known: ReadingContext;
  titleOf: (technique: string) => string;
}) {
  if (doors.length + open === 0 || !alone || !together) return null;
  const how = (by: string | null) => {
    const door = doorsOf(breakdown).find((one) => one.by === by);
    return door ? readFor(door.how, 'right') : 'no answer recorded';
  };
  return (
    <Panel>
      <h2 data-testid="sequence">
        {technique.name} finishes on its own {percent(alone.value)}, with follow-ups {percent(together.value)}
        .
      </h2>
      <p>
        Of {many(begun, 'whole rep')}: {byItself} on its own {range(alone)}, {finished} with follow-ups{' '}
        {range(together)}.
        {open > 0 &&
          ` ${many(open, 'more was', 'more were')} never ended, and ${open === 1 ? 'counts' : 'count'} nowhere.`}
      </p>
      {doors.map(({ by, to, went, finished: ended, behind }) => (
        <div key={`${by} ${to}`}>
          <p>
            <strong>{titleOf(to)}</strong>: switched {many(went, 'time')}, finished {ended}.{' '}
            <Quiet as="span">{how(by)}</Quiet>
          </p>
          <Behind
            behind={behind}
            of={went}
            well={['finished', 'lost']}
            nameOf={nameOf}
            numberOf={numberIn(breakdown)}
          />
        </div>
      ))}
    </Panel>
  );
}

/** By which entry reps began, and how often these finished. */
function HowItBegan({
  entries,
  known: { breakdown, technique, nameOf },
}: {
  entries: ChoicesReading['entries'];
  known: ReadingContext;
}) {
  const placeNamed = usePositionName();
  const from = (id: string | null) =>
    placeNamed(breakdown.entries?.find((one) => one.id === id)?.from ?? technique.startPosition);
  return (
    entries.length > 0 && (
      <Panel>
        <h2>How the reps began</h2>
        {entries.map(({ entry, begun, finished, finishes, behind }) => (
          <div key={entry}>
            <p>
              <strong>From {readFor(from(entry), 'right')}</strong>: {finished} of {begun} finished; about{' '}
              <Estimate of={finishes} />
            </p>
            <Behind
              behind={behind}
              of={begun}
              well={['finished', 'lost']}
              nameOf={nameOf}
              numberOf={numberIn(breakdown)}
            />
          </div>
        ))}
      </Panel>
    )
  );
}

/** Which of several finishes ended the reps. */
function HowItEnded({
  finishes,
  known: { breakdown, nameOf },
}: {
  finishes: ChoicesReading['finishes'];
  known: ReadingContext;
}) {
  const titleOf = (id: string) => breakdown.finishes?.find((one) => one.id === id)?.title ?? id;
  return (
    finishes.length > 0 && (
      <Panel>
        <h2>Which finish ended them</h2>
        {finishes.map(({ finish, ended, behind }) => (
          <div key={finish}>
            <p>
              <strong>{readFor(titleOf(finish), 'right')}</strong>: {many(ended, 'rep')}
            </p>
            <Behind
              behind={behind}
              of={ended}
              well={['finished', 'lost']}
              nameOf={nameOf}
              numberOf={numberIn(breakdown)}
            />
          </div>
        ))}
      </Panel>
    )
  );
}

/** What the figures of this page are made of, and what they cannot tell. */
const HowCounted = () => (
  <Quiet>
    Of the reps with an answer recorded. If only working answers are recorded, rates look too good. With few
    reps, “about” is pulled towards 50 %.
  </Quiet>
);

function Against({
  of: { defence: id, met, ended, asked, answers, better },
  known: { breakdown, nameOf },
}: {
  of: AnswersReading;
  known: ReadingContext;
}) {
  const defence = breakdown.defences.find((one) => one.id === id)!;
  const how = (answer: string | null) => {
    const found = answersOf(defence).find((one) => one.id === answer);
    return found ? readFor(found.how, 'right').replace(/\.$/, '') : 'Unrecorded answer';
  };
  const rows = answers.flatMap((one) => one.students.map((student) => ({ ...student, answer: one.answer })));
  return (
    <Panel>
      <h2 data-testid="answers">{readFor(defence.title, 'right')}</h2>
      <p>
        Open from {numberOf(breakdown, defence.opens)} to {numberOf(breakdown, defence.closes)}. Met in{' '}
        {many(met, 'rep')}, {ended} of them ended by it
        {asked > 0 && `; played on purpose in ${asked}`}.
      </p>
      {answers.length === 0 && <Quiet>No answers recorded.</Quiet>}
      {better && (
        <p>
          {better.chance >= sideGapAbove
            ? `“${how(better.first)}” works better than “${how(better.second)}” (${sure(better.chance)}).`
            : `No sign yet that one answer works better (${sure(better.chance)} for “${how(better.first)}”).`}
        </p>
      )}
      {answers.map(({ answer, tried, worked, works, behind }) => (
        <div key={answer}>
          <p>
            <strong>{how(answer)}</strong> worked {worked} of {tried}: about <Estimate of={works} />
          </p>
          <Behind
            behind={behind}
            of={tried}
            well={['worked', 'did not']}
            nameOf={nameOf}
            numberOf={numberIn(breakdown)}
          />
        </div>
      ))}
      {rows.length > 0 && (
        <Fold says="Student by student">
          {() => (
            <DataTable
              label={`the answers to “${readFor(defence.title, 'right')}”`}
              rows={rows}
              keyOf={({ student, answer }) => `${student} ${answer}`}
              wordsOf={({ student, answer }) => `${nameOf(student)} ${how(answer)}`}
              columns={[
                {
                  head: 'Student',
                  cell: ({ student }) => nameOf(student),
                  by: ({ student }) => nameOf(student),
                },
                { head: 'Answer', cell: ({ answer }) => how(answer), by: ({ answer }) => how(answer) },
                {
                  head: 'Worked',
                  cell: ({ worked, tried }) => `${worked} of ${tried}`,
                  by: ({ tried }) => tried,
                },
                {
                  head: 'About',
                  cell: ({ works }) => <Estimate of={works} />,
                  by: ({ works }) => works.value,
                },
              ]}
            />
          )}
        </Fold>
      )}
    </Panel>
  );
}
