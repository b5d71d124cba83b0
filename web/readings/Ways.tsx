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
import { type Known, ReadingFrame } from './Frame';
import { useSettings } from './settings';

/** Which way of meeting a checkpoint holds better in this room. */
export default function WaysPage() {
  const { technique: id = '' } = useParams();
  const settings = useSettings();
  const choices = useApi(endpoints.choices, { query: choicesQuery(id, settings) });
  return (
    <ReadingFrame technique={id} settings={settings} title={() => 'Which way holds better?'}>
      {(known) => (
        <Loaded of={choices} what="the ways">
          {({ ways }) =>
            ways.length === 0 ? (
              <Empty title="Nobody has said yet which way was used.">
                <p>
                  {known.breakdown.checkpoints.some(({ variants }) => variants.length > 0)
                    ? 'On the Mat, open the pair and choose how they do it; a way that a body or the attire decides is noted by itself.'
                    : 'This breakdown has one way for each checkpoint. Where coaches disagree, write the other one down as a variant.'}
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

const asWritten = 'as written, or not said';

function Compared({ at: { checkpoint, ways, better }, known }: { at: WaysReading; known: Known }) {
  const { breakdown, nameOf } = known;
  const place = placeOf(breakdown, checkpoint);
  const { title, variants } = breakdown.checkpoints[place]!;
  const wayOf = (id: string | null): string => {
    const variant = variants.find((one) => one.id === id);
    return variant ? readFor(variant.name || whenWords(variant.when), 'right') : asWritten;
  };
  const compared = ways.filter(({ way, reached }) => way !== null && reached >= reachedForBetter);
  return (
    <Panel>
      <h2 data-testid="ways">
        {place + 1} {readFor(title, 'right')}:{' '}
        {better === null
          ? ways.filter(({ way }) => way !== null).length < 2
            ? 'one way was noted so far'
            : `too few reps to compare; two ways need ${reachedForBetter} each`
          : better >= sideGapAbove
            ? `“${wayOf(compared[0]!.way)}” holds better than “${wayOf(compared[1]!.way)}” (${sure(better)})`
            : `no sign yet that one way holds better (${sure(better)} for “${wayOf(compared[0]!.way)}”)`}
      </h2>
      <Bars
        label={`How often each way of ${readFor(title, 'right')} holds`}
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
        Of the reps that got here. The chance draws the room’s students again and again, so that one who
        drills a lot does not decide alone; “about” leans on two of four while reps are few. Other things may
        differ between those who use one way and those who use the other.
      </Quiet>
    </Panel>
  );
}
