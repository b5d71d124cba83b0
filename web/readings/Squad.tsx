import { type Breakdown, readFor } from '@ulkret/core/breakdown';
import { enoughWidth, fewestReps, type Rates } from '@ulkret/core/reading';
import { Link, useParams } from 'react-router';
import { Quiet } from '../ui/frame';
import { many, percent, range } from '../ui/words';
import { MarkIcon } from '../strand/marks';
import { RopeStrip } from '../strand/RopeThumb';
import type { ReadingAnswer, RatesAnswer } from '../reader/asking';
import { type ReadingState, useDecisions, useRates, useWhole } from '../reader/use-reading';
import { Defences } from './Defences';
import { atKnot } from './Doors';
import { Matrix, MatrixCell, Scroll } from './matrix';
import { Exports, type ReadingContext, NoReps, Read, ReadingFrame, weighed, WhyTwo } from './Frame';
import { type Settings, useSettings } from './settings';

export default function SquadPage() {
  const { technique: id = '' } = useParams();
  const settings = useSettings();
  const read = useRates(id, settings.reads);
  return (
    <ReadingFrame technique={id} settings={settings} title={() => 'Where do the squad’s reps end?'}>
      {(known) => <SquadRead known={known} settings={settings} read={read} />}
    </ReadingFrame>
  );
}

function SquadRead({
  known,
  settings,
  read,
}: {
  known: ReadingContext;
  settings: Settings;
  read: ReadingState<RatesAnswer>;
}) {
  const { breakdown, nameOf } = known;
  const whole = useWhole(breakdown.technique, settings.reads);
  const base = `/readings/${breakdown.technique}`;
  return (
    <Read of={read}>
      {(answer) =>
        answer.reading.students.length === 0 ? (
          <NoReps settings={settings} />
        ) : (
          <>
            <SquadMatrix
              answer={answer}
              whole={whole}
              breakdown={breakdown}
              nameOf={nameOf}
              linkTo={(student, checkpoint) =>
                settings.to(`${base}/${student}`, checkpoint ? { checkpoint } : {})
              }
              checkpointLink={(checkpoint) => settings.to(`${base}/at/${checkpoint}`)}
            />
            <Defences
              alone
              met={answer.reading.defences.map((one) => ({
                ...one,
                technique: known.technique,
                at: atKnot(breakdown.checkpoints, one.opens),
                to: settings.to(`${base}/squad`, { checkpoint: one.opens }),
              }))}
            />
          </>
        )
      }
    </Read>
  );
}

interface MatrixProps {
  answer: RatesAnswer;
  whole: () => Promise<ReadingAnswer>;
  breakdown: Breakdown;
  nameOf: (student: string) => string;
  linkTo: (student: string, checkpoint?: string) => string;
  checkpointLink: (checkpoint: string) => string;
}

function SquadMatrix({ answer, whole, breakdown, nameOf, linkTo, checkpointLink }: MatrixProps) {
  const { reading: read, settings } = answer;
  // Asked for when the rates are drawn: they come first.
  const { data: decisions } = useDecisions(breakdown.technique);
  const rows = read.students
    .map((reading) => {
      const prescription = decisions?.get(reading.student!);
      return { reading, first: prescription?.kind === 'correct' ? prescription.checkpoint : null };
    })
    // By what was counted, so that no row moves when the numbers are refined.
    .sort((a, b) => a.reading.finished / a.reading.reps - b.reading.finished / b.reading.reps);
  const cells = (checkpoints: Rates['checkpoints'], student: string, first: string | null) =>
    checkpoints.map((at) => (
      <td key={at.checkpoint}>
        <Cell at={at} to={linkTo(student, at.checkpoint)} first={at.checkpoint === first} />
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
          <tr>
            <td />
            <td colSpan={breakdown.checkpoints.length} style={{ height: 'auto', padding: 0 }}>
              <RopeStrip checkpoints={read.squad.checkpoints} height={96} />
            </td>
          </tr>
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
        Share of reps that end at a checkpoint, of those that reach it; the small number is how many did. “?”
        means fewer than {fewestReps}. Hatched with a range: it may be anywhere in that, still more than{' '}
        {percent(enoughWidth)} wide. Lowest finish rate first. Framed: correct this first. {weighed(settings)}
      </Quiet>
      <WhyTwo />
      <div style={{ marginTop: '0.8rem' }}>
        <SquadExports breakdown={breakdown} whole={whole} read={read} />
      </div>
    </Scroll>
  );
}

/** How many end here; a range or “?” while reps are few. */
function Cell({ at, to, first }: { at: Rates['checkpoints'][number]; to: string; first: boolean }) {
  return (
    <MatrixCell
      to={to}
      share={at.hazard.value}
      sparse={!at.enough}
      first={first}
      title={`${at.failed} of ${at.reached} ended here; 80 % interval ${range(at.hazard)}`}
    >
      {at.enough ? (
        <strong>{percent(at.hazard.value)}</strong>
      ) : at.reached >= fewestReps ? (
        <span>
          <span className="unseen">still wide, </span>
          {range(at.hazard)}
        </span>
      ) : (
        <span>
          <span className="unseen">not enough yet, </span>
          <span aria-hidden>?</span>
        </span>
      )}
      <small>of {at.reached}</small>
      {first && <span className="unseen">, correct first</span>}
    </MatrixCell>
  );
}

function SquadExports({
  breakdown,
  whole,
  read,
}: Pick<MatrixProps, 'breakdown' | 'whole'> & { read: RatesAnswer['reading'] }) {
  return (
    <Exports
      name={`${breakdown.technique}-squad`}
      answer={whole}
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
  );
}
