import { type ReadingAnswer } from '../reader/asking';
import { type Against } from './against';
import { type Settings } from './settings';
import { type compare, type Reading } from '@ulkret/core/reading';
import { type CheckpointReading } from '@ulkret/core/reading';
import { Link } from 'react-router';
import styled from 'styled-components';
import { saveFile } from '../ui/save-file';
import { Button } from '../ui/button';
import { Row } from '../ui/frame';
import { many, percent, range, sure } from '../ui/words';
import { strandPng, strandSvg } from '../strand/picture';
import { Exports, type ReadingContext } from './Frame';

export interface FoundProps {
  known: ReadingContext;
  settings: Settings;
  student: string;
  answer: ReadingAnswer;
  reading: Reading;
  /** The reading that is laid over this one. */
  against?: Against & { reading: Reading };
}

export const KnotLink = styled(Link)`
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 0 1rem;
  padding: 0.4rem 0.7rem;
  border-radius: 8px;
  color: var(--ink);
  text-decoration: none;
  line-height: 1.25;
  strong {
    font-weight: 600;
  }
  em {
    font-style: normal;
    font-weight: 650;
    text-align: right;
  }
  small {
    color: var(--muted);
    font-size: 0.88rem;
  }
  small {
    grid-column: 1 / -1;
  }
  @media (max-width: 640px) {
    grid-template-columns: minmax(0, 1fr);
    padding: 0.2rem 0.4rem;
    line-height: 1.2;
    em {
      text-align: left;
      font-size: 0.92rem;
    }
    small {
      font-size: 0.84rem;
    }
  }
  &[aria-current] {
    background: var(--wash);
  }
`;

/** What of 100 reps finishes, or what two readings finish. */
export function OwnCounts({ reading, against }: Pick<FoundProps, 'reading' | 'against'>) {
  return (
    <p style={{ marginBottom: '0.8rem' }}>
      {against ? (
        <>
          {against.names[0]}, {percent(reading.finishRate.value)} finish ({many(reading.reps, 'rep')});{' '}
          {against.names[1]}, the dashed outline, {percent(against.reading.finishRate.value)} (
          {many(against.reading.reps, 'rep')}).
        </>
      ) : (
        <>
          Of 100 reps now, about <strong>{Math.round(reading.finishRate.value * 100)}</strong> finish (
          {range(reading.finishRate)}). Counted: {reading.finished} finishes in {many(reading.reps, 'rep')}.
        </>
      )}
    </p>
  );
}

/** What is lost at one checkpoint, or how it differs between two readings. */
export function LostHere({
  one,
  both,
  then,
}: {
  one: CheckpointReading;
  both: ReturnType<typeof compare>[number] | undefined;
  then: string | undefined;
}) {
  return (
    <>
      <em>{percent(one.leak.value)} lost</em>
      {both ? (
        <small>
          {percent(both.first.hazard.value)} of {both.first.reached} → {percent(both.second.hazard.value)} of{' '}
          {both.second.reached}
          {both.fell === null
            ? ' · not enough yet to compare'
            : ` · ${both.fell >= 0.5 ? 'lower' : 'higher'} ${then}, chance ${sure(Math.max(both.fell, 1 - both.fell))}`}
        </small>
      ) : (
        <small>
          {one.failed} of the {one.reached} that got here: {percent(one.hazard.value)}, {range(one.hazard)}
          {!one.enough && ` · still wide, needs ${one.moreNeeded} more`}
        </small>
      )}
    </>
  );
}

/** The strand as a picture, the reading as a table. */
export function TakeHome({
  name: file,
  answer,
  reading,
  strand,
}: Pick<FoundProps, 'answer' | 'reading'> & { name: string; strand: () => Element }) {
  return (
    <Row style={{ marginTop: '0.8rem' }}>
      <Button $quiet onPress={() => saveFile(`${file}.svg`, strandSvg(strand()).text, 'image/svg+xml')}>
        Strand as SVG
      </Button>
      <Button $quiet onPress={() => void strandPng(strand()).then((png) => saveFile(`${file}.png`, png))}>
        Strand as PNG
      </Button>
      <Exports
        name={file}
        answer={answer}
        columns={['checkpoint', 'reached', 'failed', 'hazard', 'hazard_low', 'hazard_high', 'leak', 'gain']}
        rows={() =>
          reading.checkpoints.map((one) => [
            one.checkpoint,
            one.reached,
            one.failed,
            one.hazard.value,
            one.hazard.low,
            one.hazard.high,
            one.leak.value,
            one.rootGain.value,
          ])
        }
      />
    </Row>
  );
}
