import { placeOf, readFor, checkpointWords } from '@ulkret/core/breakdown';
import { proofWords, signOffWords } from '@ulkret/core/prescription';
import { rungNames } from '@ulkret/core/rep';
import { useAct, useMat, useMatStore } from './use-mat';
import { Button } from '../../ui/button';
import { Caution } from '../../ui/caution';
import { Sheet } from '../../ui/dialog';
import { Quiet, Row } from '../../ui/frame';

/** What the attacker works on: the cue to say, the drill to set up, and what would settle it. */
export default function WorkPanel({ close }: { close: () => void }) {
  const act = useAct();
  const store = useMatStore();
  const open = useMat((now) => now.open);
  if (!open?.view.work) return null;
  const { view, breakdown } = open;
  const { place, rung, test, how, dose, recheck } = open.view.work;
  const { side, student } = view.turn;
  const name = store.knows().nameOf(student);
  const { session } = store.work;
  /** Do the reps of this pair start at the checkpoint already? */
  const startsHere = view.span.from === (how.startAt ?? how.checkpoint);
  const start = (here: boolean) => {
    const { checkpoint, endAt } = how;
    const span = here
      ? { from: how.startAt ?? checkpoint, to: endAt ?? view.span.to }
      : { from: session.from, to: session.to };
    act({ do: 'change', set: { is: 'span', pair: [...view.members], ...span } });
  };
  const from = how.startAt ? placeOf(breakdown, how.startAt) : place;
  const variants = view.ways.filter(({ checkpoint }) => checkpoint === how.checkpoint);
  const cautions = [...(how.cautions ?? []), ...variants.flatMap(({ variant }) => variant.caution ?? [])];
  const title = checkpointWords(breakdown, how.checkpoint, side);
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
        <p>Just this checkpoint: get it, hold one breath, reset.</p>
      )}
      {cautions.length > 0 && <Caution note={cautions.map((one) => readFor(one, side)).join(' ')} />}
      <p>
        At rung {rung} ({rungNames[rung]}) or above.{' '}
        {recheck
          ? `It was signed off a while ago: ${recheck.held} of ${recheck.seen} held today, three are enough.`
          : proofWords(breakdown, how, side) || signOffWords(test)}
      </p>
      {dose && how.sets && (
        <p>
          {how.sets} × {how.reps} reps{how.sides === 'both' ? ' each side' : ` on the ${how.sides} side`}
          {how.minutes && `, about ${how.minutes} minutes`}: {dose.done} of {dose.of} done.
        </p>
      )}
      {(how.held?.length ?? 0) > 0 && (
        <Quiet>
          {how.held!.filter(Boolean).length} of {how.held!.length} held in earlier classes count too.
        </Quiet>
      )}
      <Row>
        <Button
          onPress={() => {
            start(!startsHere);
            close();
          }}
        >
          {startsHere
            ? 'Start reps at the beginning again'
            : how.endAt
              ? `Reps from ${from + 1} to ${placeOf(breakdown, how.endAt) + 1}, no further`
              : `Start reps at ${from + 1}`}
        </Button>
        <Button $quiet onPress={close}>
          Close
        </Button>
      </Row>
    </Sheet>
  );
}
