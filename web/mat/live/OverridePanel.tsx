import { useState } from 'react';
import { Button } from '../../ui/button';
import { Quiet, Row } from '../../ui/frame';
import { Sheet } from '../../ui/dialog';
import { TextArea } from '../../ui/text-field';
import { shortestReason } from '../pairs/reason';
import { useMat, useMatStore } from './use-mat';

/** A coach lets two adults drill what the house's rules refuse, in writing. */
export default function OverridePanel({ close }: { close: () => void }) {
  const store = useMatStore();
  const open = useMat((now) => now.open);
  const [reason, setReason] = useState('');
  if (!open) return null;
  const { permit, turn } = open.view;
  const { nameOf } = store.knows();
  const who = `${nameOf(turn.student)}${turn.partner ? ` on ${nameOf(turn.partner)}` : ''}: ${open.technique.name}`;
  const enough = reason.trim().length >= shortestReason;
  return (
    <Sheet label="Override" written close={close}>
      <h2>{who}</h2>
      <ul>
        {permit.reasons.map(({ words }) => (
          <li key={words}>{words}</li>
        ))}
      </ul>
      <TextArea label="Why you override" value={reason} maxLength={500} onChange={setReason} />
      <Quiet>Saved with your name, for this class only. They may learn and drill, not spar.</Quiet>
      <Row>
        <Button
          isDisabled={!enough}
          onPress={() => {
            store.work.add({
              is: 'overrides',
              fact: {
                ...store.made(),
                student: turn.student,
                partner: turn.partner,
                technique: open.technique.id,
                reason: reason.trim(),
              },
            });
            close();
          }}
        >
          Override
        </Button>
        <Button $quiet onPress={close}>
          Keep the block
        </Button>
      </Row>
    </Sheet>
  );
}
