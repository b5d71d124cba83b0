import { Button } from '../../ui/button';
import { Sheet } from '../../ui/dialog';
import { Quiet, Row } from '../../ui/frame';
import { ButtonLink } from '../../ui/button-link';
import { dayOf, timeOf } from '../../ui/words';
import { useAct, useMatStore } from './use-mat';

/** A class of an earlier day that nobody has ended takes no rep before the coach says that it goes on. */
export default function EarlierDayPanel({ close }: { close: () => void }) {
  const act = useAct();
  const store = useMatStore();
  const { id, startedAt } = store.work.session;
  const when = `${dayOf(startedAt)}, ${timeOf(startedAt)}`;
  return (
    <Sheet label="A class of an earlier day" width="32rem" close={close}>
      <h2>This class began on {when}.</h2>
      <p>Nobody ended it. Reps you log now would belong to it.</p>
      <Row>
        <Button
          $tall
          onPress={() => {
            // It ended with its last rep, not today.
            const at = store.now().log.last.at(-1)?.at ?? startedAt;
            store.work.add({ is: 'changes', fact: { ...store.made(), at, set: { is: 'end' } } });
            close();
          }}
        >
          End that class
        </Button>
        <Button $tall $quiet onPress={() => act({ do: 'class goes on' })}>
          Continue it now
        </Button>
      </Row>
      <Quiet>
        Enter reps from paper{' '}
        <ButtonLink to={`/mat/${id}/paper`} $quiet>
          on its own page
        </ButtonLink>
        , with the time of the class.
      </Quiet>
    </Sheet>
  );
}
