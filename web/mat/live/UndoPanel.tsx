import { repWords } from '@ulkret/core/session';
import { Button } from '../../ui/button';
import { Sheet } from '../../ui/dialog';
import { Quiet, Row } from '../../ui/frame';
import { timeOf } from '../../ui/words';
import { useAct, useMat, useMatStore } from './use-mat';

/** Asks before a rep from another device is undone; its coach hears of it. */
export default function UndoPanel({ close }: { close: () => void }) {
  const act = useAct();
  const { nameOf, observerName, coach } = useMatStore().knows();
  const now = useMat((one) => one);
  const { over } = now.state;
  if (over?.is !== 'undo') return null;
  const { rep } = over;
  const by = rep.observer === coach ? 'you logged on another device' : `${observerName(rep.observer)} logged`;
  return (
    <Sheet label="Undo this rep?" width="30rem" close={close}>
      <h2>
        {nameOf(rep.student)}
        {rep.partner && ` on ${nameOf(rep.partner)}`}: {repWords(now, rep)}
      </h2>
      <p>
        {by.replace(/^./, (letter) => letter.toUpperCase())} it at {timeOf(rep.at)}.
      </p>
      <Row>
        <Button $tall onPress={() => act({ do: 'undo', rep, sure: true })}>
          Undo it
        </Button>
        <Button $tall $quiet onPress={close}>
          Keep it
        </Button>
      </Row>
      <Quiet>Restore it any time under “All reps”.</Quiet>
    </Sheet>
  );
}
