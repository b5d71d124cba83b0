import { endpoints } from '@ulkret/contract';
import { placeOf, readFor, whenWords } from '@ulkret/core/breakdown';
import { reachedForBetter, sideGapAbove, type WaysReading } from '@ulkret/core/reading';
import { useParams } from 'react-router';
import { useApi } from '../api/use-api';
import { Panel, Quiet } from '../ui/frame';
import { Empty, Loaded } from '../ui/states';
import { Estimate } from '../ui/estimate';
import { sure } from '../ui/words';
import { Behind } from './Behind';
import { Bars } from './charts';
import { choicesQuery, numberIn } from './choices';
import { type ReadingContext, ReadingFrame } from './Frame';
import { useSettings } from './settings';

/** Which way of meeting a checkpoint holds better in this room. */
export default function VariantsPage() {
  const { technique: id = '' } = useParams();
  const settings = useSettings();
  const choices = useApi(endpoints.choices, { query: choicesQuery(id, settings) });
  return (
    <ReadingFrame technique={id} settings={settings} title={() => 'Which variant holds better?'}>
      {(known) => (
        <Loaded of={choices} what="the variants">
          {({ ways }) =>
            ways.length === 0 ? (
              <Empty title="No variants recorded yet.">
                <p>
                  {known.breakdown.checkpoints.some(({ variants }) => variants.length > 0)
                    ? 'On the Mat, open the pair and choose the variant; one that a body or the attire decides is recorded on its own.'
                    : 'This breakdown has one variant per checkpoint. Where coaches disagree, write the other one down.'}
                </p>
              </Empty>
            ) : (
              ways.map((one) => <Compared key={one.checkpoint} at={one} known={known} />)
            )
          }
        </Loaded>
      )}
    </ReadingFrame>
  );
}

const asWritten = 'as written, or not recorded';

function Compared({ at: { checkpoint, ways, better }, known }: { at: WaysReading; known: ReadingContext }) {
  const { breakdown, nameOf } = known;
  const place = placeOf(breakdown, checkpoint);
  const { title, variants } = breakdown.checkpoints[place]!;
  const wayOf = (id: string | null): string => {
    const variant = variants.find((one) => one.id === id);
    return variant ? readFor(variant.name || whenWords(variant.when), 'right') : asWritten;
  };
  return (
    <Panel>
      <h2 data-testid="ways">
        {place + 1} {readFor(title, 'right')}:{' '}
        {better === null
          ? ways.filter(({ way }) => way !== null).length < 2
            ? 'one variant recorded so far'
            : `too few reps to tell; two variants need ${reachedForBetter} each, of several students`
          : better.chance >= sideGapAbove
            ? `“${wayOf(better.first)}” holds better than “${wayOf(better.second)}” (${sure(better.chance)})`
            : `no sign yet that one variant holds better (${sure(better.chance)} for “${wayOf(better.first)}”)`}
      </h2>
      <Bars
        label={`How often each variant of ${readFor(title, 'right')} holds`}
        lines={ways.map(({ way, held, reached }) => ({ name: wayOf(way), value: held, n: reached }))}
      />
      {ways.map(({ way, reached, failed, students, held, behind }) => (
        <div key={way}>
          <p>
            <strong>{wayOf(way)}</strong>: held {reached - failed} of {reached},{' '}
            {students === 1 ? 'of one student' : `of ${students} students`}; about <Estimate of={held} />
          </p>
          <Behind
            behind={behind}
            of={reached}
            well={['held', 'lost']}
            nameOf={nameOf}
            numberOf={numberIn(breakdown)}
          />
        </div>
      ))}
      <Quiet>
        Of the reps that got here. The chance allows for the student, the rung and the side, so one busy
        student does not decide. With few reps, “about” is pulled towards 50 %. Students who use one variant
        may differ in other ways.
      </Quiet>
    </Panel>
  );
}
