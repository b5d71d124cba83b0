import { placeOf, checkpointWords } from '@ulkret/core/breakdown';
import { beliefReading, fewestReps } from '@ulkret/core/reading';
import { Link, useParams } from 'react-router';
import { Columns, Panel, Quiet } from '../ui/frame';
import { DataTable } from '../ui/data-table';
import { Estimate } from '../ui/estimate';
import { grouped, many, percent, range, sure } from '../ui/words';
import type { ReadingAnswer } from '../reader/asking';
import { SharedPiece } from '../reader/SharedPiece';
import { useReading, type ReadingState } from '../reader/use-reading';
import { Causes } from './Causes';
import { Points } from './charts';
import { Conditions } from './Conditions';
import { Evidence, evidenceQuery } from './Evidence';
import { Exports, type ReadingContext, NoReps, Read, ReadingFrame } from './Frame';
import { MeasuredHere } from './MeasuredHere';
import { type Settings, useSettings } from './settings';

export default function CheckpointPage() {
  const { technique: id = '', checkpoint = '' } = useParams();
  const settings = useSettings();
  // Asked for along with the breakdown and the roster, not after them.
  const read = useReading(id, settings.reads);
  return (
    <ReadingFrame
      technique={id}
      settings={settings}
      title={({ breakdown }) => `Whose reps end at ${checkpointWords(breakdown, checkpoint, 'right')}?`}
    >
      {(known) =>
        placeOf(known.breakdown, checkpoint) < 0 ? (
          <Panel>
            <h2>This breakdown has no such checkpoint.</h2>
            <Link to={`/readings/${id}`}>The squad</Link>
          </Panel>
        ) : (
          <CheckpointRead read={read} known={known} settings={settings} checkpoint={checkpoint} />
        )
      }
    </ReadingFrame>
  );
}

function CheckpointRead({
  read,
  known,
  settings,
  checkpoint,
}: {
  read: ReadingState<ReadingAnswer>;
  known: ReadingContext;
  settings: Settings;
  checkpoint: string;
}) {
  return (
    <Read of={read}>
      {(answer) =>
        answer.reading.students.length === 0 ? (
          <NoReps settings={settings} />
        ) : (
          <Everybody {...{ known, settings, checkpoint, answer }} />
        )
      }
    </Read>
  );
}

function Everybody({
  known,
  settings,
  checkpoint,
  answer,
}: {
  known: ReadingContext;
  settings: Settings;
  checkpoint: string;
  answer: ReadingAnswer;
}) {
  const { breakdown, nameOf } = known;
  const place = placeOf(breakdown, checkpoint);
  const squad = answer.reading.squad.checkpoints[place]!;
  const rows = answer.reading.students
    .map(({ student, checkpoints }) => ({ student: student!, at: checkpoints[place]! }))
    .sort((a, b) => b.at.hazard.value - a.at.hazard.value);
  const reached = rows.filter(({ at }) => at.reached > 0);
  const { belief, evidence, low, high } = beliefReading(breakdown, answer.reading.squad).rows[place]!;
  return (
    <Columns>
      <div>
        <Panel>
          <p>
            {grouped(squad.failed)} of the {many(squad.reached, 'rep')} that reached it ended there. Now it is
            about <strong>{percent(squad.hazard.value)}</strong>, {range(squad.hazard)}.
          </p>
          <Points
            label={`Hazard of ${checkpointWords(breakdown, checkpoint, 'right')} for each student, with 80 % intervals`}
            lines={reached.map(({ student, at }) => ({
              name: nameOf(student),
              value: at.hazard,
              n: at.reached,
            }))}
          />
          <Quiet>Share of reps that reached it and ended here; lines are 80 % intervals.</Quiet>
          <SharedPiece of={breakdown.checkpoints[place]!} technique={breakdown.technique} />
        </Panel>
        <Conditions at={squad} />
        <MeasuredHere checkpoint={checkpoint} settings={settings} known={known} />
      </div>
      <div>
        <Panel>
          <h2>Your weight and the reps</h2>
          <p>
            You give it {Math.round(belief)} of 100; the reps give it {Math.round(evidence)} (
            {Math.round(low)}–{Math.round(high)}) of all that fixing would gain.{' '}
            <Link to={settings.to(`/readings/${breakdown.technique}/weights`)}>All checkpoints</Link>
          </p>
          <Causes at={squad} breakdown={breakdown} lead="right" />
        </Panel>
        <Evidence
          query={evidenceQuery(settings, breakdown.technique, checkpoint, undefined)}
          breakdown={breakdown}
          lead="right"
          expected={squad.reached}
        />
      </div>
      <div style={{ gridColumn: '1 / -1' }}>
        <StudentByStudent {...{ breakdown, nameOf, settings, checkpoint, answer, rows }} />
      </div>
    </Columns>
  );
}

/** Which way it differs, and how sure that is: never the chance of what is not the case. */
const worse = (chance: number | null): string =>
  chance === null
    ? 'not enough yet'
    : chance >= 0.5
      ? `worse, chance ${sure(chance)}`
      : `better, chance ${sure(1 - chance)}`;

/** The same for each student, the widest loss first. */
function StudentByStudent({
  breakdown,
  nameOf,
  settings,
  checkpoint,
  answer,
  rows,
}: Pick<ReadingContext, 'breakdown' | 'nameOf'> & {
  settings: Settings;
  checkpoint: string;
  answer: ReadingAnswer;
  rows: readonly { student: string; at: ReadingAnswer['reading']['squad']['checkpoints'][number] }[];
}) {
  return (
    <Panel>
      <h2>Student by student</h2>
      <DataTable
        label="the students"
        rows={rows}
        keyOf={({ student }) => student}
        wordsOf={({ student }) => nameOf(student)}
        columns={[
          {
            head: 'Student',
            cell: ({ student }) => (
              <Link to={settings.to(`/readings/${breakdown.technique}/${student}`, { checkpoint })}>
                {nameOf(student)}
              </Link>
            ),
            by: ({ student }) => nameOf(student),
          },
          {
            head: 'Ended here',
            cell: ({ at }) => `${at.failed} of ${at.reached}`,
            by: ({ at }) => at.failed,
          },
          {
            head: 'Hazard',
            cell: ({ at }) =>
              at.enough ? (
                <Estimate of={at.hazard} />
              ) : at.reached >= fewestReps ? (
                <Quiet as="span">
                  {range(at.hazard)}, still wide: {at.moreNeeded} more
                </Quiet>
              ) : (
                <Quiet as="span">not enough yet, {at.moreNeeded} more</Quiet>
              ),
            by: ({ at }) => (at.reached >= fewestReps ? at.hazard.value : null),
          },
          {
            head: 'Holds up to',
            cell: ({ at }) => (at.holdsUpTo === null ? '–' : `rung ${at.holdsUpTo}`),
            by: ({ at }) => at.holdsUpTo,
          },
          { head: 'Off side', cell: ({ at }) => worse(at.sideGap), by: ({ at }) => at.sideGap },
          { head: 'Heavier partner', cell: ({ at }) => worse(at.massGap), by: ({ at }) => at.massGap },
        ]}
      />
      <div style={{ marginTop: '0.8rem' }}>
        <Exports
          name={`${breakdown.technique}-${checkpoint}`}
          answer={answer}
          columns={[
            'student',
            'reached',
            'failed',
            'hazard',
            'hazard_low',
            'hazard_high',
            'holds_up_to',
            'off_side_worse',
            'heavier_worse',
          ]}
          rows={() =>
            rows.map(({ student, at }) => [
              student,
              at.reached,
              at.failed,
              at.hazard.value,
              at.hazard.low,
              at.hazard.high,
              at.holdsUpTo,
              at.sideGap,
              at.massGap,
            ])
          }
        />
      </div>
    </Panel>
  );
}
