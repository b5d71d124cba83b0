import { type Breakdown, placeOf, readFor, type Side } from '@ulkret/core/breakdown';
import { signOffWords } from '@ulkret/core/prescription';
import { rungNames } from '@ulkret/core/rep';
import { Button } from '../ui/button';
import { Sheet } from '../ui/dialog';
import { Quiet, Row } from '../ui/frame';
import type { Work } from './pair-view';

/** What the attacker works on: the cue to say, the drill to set up, and what would settle it. */
export default function WorkPanel({
  work: { place, rung, test, how },
  breakdown,
  side,
  name,
  startsHere,
  onStart,
  close,
}: {
  work: Work;
  breakdown: Breakdown;
  side: Side;
  name: string;
  /** Do the reps of this pair start at the checkpoint already? */
  startsHere: boolean;
  /** Lets them start there, or at the beginning again. */
  onStart: (here: boolean) => void;
  close: () => void;
}) {
  const title = `${place + 1} “${readFor(breakdown.checkpoints[place]!.title, side)}”`;
  return (
    <Sheet label={`What ${name} works on`} width="34rem" close={close}>
      <h2>
        {name}: {title}
      </h2>
      {how.cue && (
        <p>
          <strong>Cue:</strong> {readFor(how.cue, side)}
        </p>
      )}
      {how.drill ? (
        <>
          <p>
            <strong>{how.drill.title}:</strong> {how.drill.setUp}
          </p>
          {how.drill.task && <p>Partner: {how.drill.task}</p>}
        </>
      ) : (
        <p>The point by itself: make it true, hold it for a breath, go back.</p>
      )}
      <p>
        At rung {rung} ({rungNames[rung]}) or above. {signOffWords(test)}
      </p>
      {(how.held?.length ?? 0) > 0 && (
        <Quiet>
          {how.held!.filter(Boolean).length} of {how.held!.length} held in earlier classes count with it.
        </Quiet>
      )}
      <Row>
        <Button
          onPress={() => {
            onStart(!startsHere);
            close();
          }}
        >
          {startsHere
            ? 'Start reps at the beginning again'
            : how.endAt
              ? `Reps from ${place + 1} to ${placeOf(breakdown, how.endAt) + 1}, no further`
              : `Start reps at ${place + 1}`}
        </Button>
        <Button $quiet onPress={close}>
          Close
        </Button>
      </Row>
    </Sheet>
  );
}
