import { type Breakdown, readFor } from '@ulkret/core/breakdown';
import type { CheckpointReading } from '@ulkret/core/reading';
import type { CSSProperties } from 'react';
import { VisuallyHidden } from 'react-aria/VisuallyHidden';
import { Link, useParams } from 'react-router';
import { Quiet } from '../ui/ui';
import { many, percent, range } from '../ui/words';
import { MarkIcon } from '../strand/marks';
import type { Answer } from '../reader/reader';
import { useReading } from '../reader/use-reading';
import { MatrixCell, Matrix, Scroll } from './matrix';
import { Exports, type Known, NoReps, Read, ReadingFrame, weighed, WhyTwo } from './Frame';
import { type Settings, useSettings } from './settings';

export default function SquadPage() {
  const { technique: id = '' } = useParams();
  const settings = useSettings();
  return (
    <ReadingFrame technique={id} settings={settings} title={() => 'Where do the squad’s reps end?'}>
      {(known) => <SquadRead known={known} settings={settings} />}
    </ReadingFrame>
  );
}

function SquadRead({ known, settings }: { known: Known; settings: Settings }) {
  const { breakdown, students, nameOf } = known;
  const read = useReading(breakdown, students, settings.asked);
  const base = `/readings/${breakdown.technique}`;
  return (
    <Read of={read} plainly={() => settings.set('method', 'plain')}>
      {(answer) =>
        answer.reading.students.length === 0 ? (
          <NoReps settings={settings} />
        ) : (
          <SquadMatrix
            answer={answer}
            breakdown={breakdown}
            nameOf={nameOf}
            linkTo={(student, checkpoint) =>
              settings.to(`${base}/${student}`, checkpoint ? { checkpoint } : {})
            }
            checkpointLink={(checkpoint) => settings.to(`${base}/at/${checkpoint}`)}
          />
        )
      }
    </Read>
  );
}

interface MatrixProps {
  answer: Answer;
  breakdown: Breakdown;
  nameOf: (student: string) => string;
  linkTo: (student: string, checkpoint?: string) => string;
  checkpointLink: (checkpoint: string) => string;
}

function SquadMatrix({ answer, breakdown, nameOf, linkTo, checkpointLink }: MatrixProps) {
  const { reading: read, settings } = answer;
  const prescriptions = new Map(answer.prescriptions);
  const rows = read.students
    .map((reading) => {
      const prescription = prescriptions.get(reading.student!);
      const correct = prescription?.kind === 'correct' ? prescription : null;
      return { reading, first: correct?.checkpoint ?? null, gain: correct?.gain.value ?? -1 };
    })
    .sort((a, b) => b.gain - a.gain);
  const cells = (checkpoints: readonly CheckpointReading[], student: string, first: string | null) =>
    checkpoints.map((at) => (
      <td key={at.checkpoint}>
        <MatrixCell
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
        </MatrixCell>
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
              <Quiet as="span">finish rate</Quiet>
            </th>
            {breakdown.checkpoints.map(({ id, kind, title }, i) => (
              <th key={id} scope="col">
                <Link to={checkpointLink(id)}>
                  <MarkIcon kind={kind} size={18} />
                  {i + 1} {readFor(title, 'right')}
                </Link>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          <tr data-squad>
            <th scope="row">
              <Link to={linkTo('squad')}>The squad</Link>{' '}
              <Quiet as="span">{percent(read.squad.finishRate.value)}</Quiet>
            </th>
            {cells(read.squad.checkpoints, 'squad', null)}
          </tr>
          {rows.map(({ reading, first }) => (
            <tr key={reading.student}>
              <th scope="row">
                <Link to={linkTo(reading.student!)}>{nameOf(reading.student!)}</Link>{' '}
                <Quiet as="span" title={`${range(reading.finishRate)} of ${many(reading.reps, 'rep')}`}>
                  {percent(reading.finishRate.value)}
                </Quiet>
              </th>
              {cells(reading.checkpoints, reading.student!, first)}
            </tr>
          ))}
        </tbody>
      </Matrix>
      <Quiet style={{ margin: '0.6rem 0' }}>
        Of the reps that reach a checkpoint, the share that ends there; the small number is how many did, and
        hatched is not enough yet. Sorted by what one correction would gain; the checkpoint to correct first
        is framed. {weighed(settings)}
      </Quiet>
      <WhyTwo />
      <div style={{ marginTop: '0.8rem' }}>
        <Exports
          name={`${breakdown.technique}-squad`}
          answer={answer}
          columns={[
            'student',
            'reps',
            'finish_rate',
            'checkpoint',
            'reached',
            'failed',
            'hazard',
            'hazard_low',
            'hazard_high',
            'leak',
            'root_leak',
            'gain',
            'enough',
          ]}
          rows={() =>
            [read.squad, ...read.students].flatMap((one) =>
              one.checkpoints.map((at) => [
                one.student ?? 'squad',
                one.reps,
                one.finishRate.value,
                at.checkpoint,
                at.reached,
                at.failed,
                at.hazard.value,
                at.hazard.low,
                at.hazard.high,
                at.leak.value,
                at.rootLeak,
                at.rootGain.value,
                at.enough ? 'yes' : `${at.moreNeeded} more`,
              ]),
            )
          }
        />
      </div>
    </Scroll>
  );
}
