import type { Permit } from '@ulkret/core/care';
import { useState } from 'react';
import { Button } from '../ui/button';
import { Quiet, Row } from '../ui/frame';
import { Sheet } from '../ui/dialog';
import { TextArea } from '../ui/text-field';

export const shortestReason = 10;

/** A coach lets two adults drill what the house's rules refuse, in writing. */
export default function OverridePanel({
  permit,
  who,
  onLet,
  close,
}: {
  permit: Permit;
  who: string;
  onLet: (reason: string) => void;
  close: () => void;
}) {
  const [reason, setReason] = useState('');
  const enough = reason.trim().length >= shortestReason;
  return (
    <Sheet label="Let them drill it" written close={close}>
      <h2>{who}</h2>
      <ul>
        {permit.reasons.map(({ words }) => (
          <li key={words}>{words}</li>
        ))}
      </ul>
      <TextArea label="Why you let them drill it" value={reason} maxLength={500} onChange={setReason} />
      <Quiet>Kept with your name, for this session alone. It lets them learn and drill, never spar.</Quiet>
      <Row>
        <Button
          isDisabled={!enough}
          onPress={() => {
            onLet(reason.trim());
            close();
          }}
        >
          Let them drill it
        </Button>
        <Button $quiet onPress={close}>
          Leave it refused
        </Button>
      </Row>
    </Sheet>
  );
}
