import { mayBeOpinion, repWords } from '@ulkret/core/session';
import styled from 'styled-components';
import { Button } from '../../ui/button';
import { Sheet } from '../../ui/dialog';
import { Quiet } from '../../ui/frame';
import { timeOf } from '../../ui/words';
import { twiceIn } from './advice-of';
import { useAct, useMat, useMatStore } from './use-mat';
import { useWhose } from './use-whose';

const Choices = styled.div`
  display: grid;
  gap: 0.5rem;
  > button {
    min-height: 56px;
    text-align: left;
  }
`;

/** Two reps that look like one seen twice: which of them is kept, or are there two? */
export default function TwicePanel({ close }: { close: () => void }) {
  const act = useAct();
  const { nameOf, coach } = useMatStore().knows();
  const whose = useWhose();
  const now = useMat((one) => one);
  const two = twiceIn(now);
  if (!two)
    return (
      <Sheet label="Logged twice?" width="30rem" close={close}>
        <p>It is settled.</p>
        <Button onPress={close}>Close</Button>
      </Sheet>
    );
  const [first] = two;
  return (
    <Sheet label="Logged twice?" width="30rem" close={close}>
      <h2>Logged twice?</h2>
      <p>
        {nameOf(first.student)}
        {first.partner && ` on ${nameOf(first.partner)}`}, {first.side} side.
      </p>
      <Choices>
        {two.map((keep) => {
          const other = two.find(({ id }) => id !== keep.id)!;
          return [
            <Button key={keep.id} onPress={() => act({ do: 'twice', two, keep })}>
              Keep {whose(keep)}: {repWords(now, keep)}, {timeOf(keep.at)}
            </Button>,
            mayBeOpinion(keep, other, { coach }) && (
              <Button
                key={`${keep.id} opinion`}
                $quiet
                onPress={() => act({ do: 'twice', two, keep, opinion: true })}
              >
                Keep {whose(keep)}, and mine as a second opinion: {repWords(now, other)}
              </Button>
            ),
          ];
        })}
        <Button $quiet onPress={() => act({ do: 'twice', two, keep: 'both' })}>
          Two reps
        </Button>
      </Choices>
      <Quiet>Restore it any time under “All reps”.</Quiet>
    </Sheet>
  );
}
