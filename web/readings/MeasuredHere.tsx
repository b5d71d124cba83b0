import { endpoints } from '@ulkret/contract';
import { rangeWords } from '@ulkret/core/breakdown';
import type { MeasuredReading } from '@ulkret/core/reading';
import { sideGapAbove } from '@ulkret/core/reading';
import { useApi } from '../api/use-api';
import { Estimate } from '../ui/estimate';
import { Panel, Quiet } from '../ui/frame';
import { sure } from '../ui/words';
import { Behind } from './Behind';
import { Values } from './charts';
import { choicesQuery, numberIn } from './choices';
import type { ReadingContext } from './Frame';
import type { Settings } from './settings';

/** What was measured or timed at a checkpoint, against how it went; nothing where no rep says. */
export function MeasuredHere({
  checkpoint,
  settings,
  known,
}: {
  checkpoint: string;
  settings: Settings;
  known: ReadingContext;
}) {
  const { technique } = known.breakdown;
  const { data } = useApi(endpoints.choices, { query: choicesQuery(technique, settings) });
  return data?.measured
    .filter((one) => one.checkpoint === checkpoint)
    .map((one) => <Against key={one.of} of={one} known={known} />);
}

function Against({
  of: { of, low, high, unit, inside, outside, better, values },
  known: { breakdown, nameOf },
}: {
  of: MeasuredReading;
  known: ReadingContext;
}) {
  const range = rangeWords({ low, high, unit });
  const says =
    better === null
      ? 'Too few values to tell whether the range matters'
      : better >= sideGapAbove
        ? `It holds better within the range (${sure(better)})`
        : better <= 1 - sideGapAbove
          ? `It holds better outside the range (${sure(1 - better)}): check the range`
          : `No sign yet that the range matters (${sure(better)} that it holds better inside)`;
  const line = (name: string, { reached, held, rate, behind }: MeasuredReading['inside']) =>
    reached > 0 && (
      <div>
        <p>
          <strong>{name}</strong>: held {held} of {reached}; about <Estimate of={rate} />
        </p>
        <Behind
          behind={behind}
          of={reached}
          well={['held', 'lost']}
          nameOf={nameOf}
          numberOf={numberIn(breakdown)}
        />
      </div>
    );
  return (
    <Panel>
      <h2 data-testid="measured">
        {of === 'time' ? 'In time' : 'Measured'}: {says}
      </h2>
      <Values
        label={`Values that held and values that were lost, range ${range}`}
        {...{ values, low, high, unit }}
      />
      {line(`Within ${range}`, inside)}
      {line('Outside', outside)}
      <Quiet>Of the reps with a value. With few reps, “about” is pulled towards 50 %.</Quiet>
    </Panel>
  );
}
