import { useState } from 'react';
import { Button } from '../ui/button';
import { Sheet } from '../ui/dialog';
import { Quiet, Row } from '../ui/frame';
import { TextField } from '../ui/text-field';

const usual = ['An injury.', 'Something else comes first.', 'The number is wrong.', 'Not before the event.'];

/** Why a correction is not wanted: respected for four weeks, and kept. */
export function DeclineSheet({
  name,
  what,
  close,
  decline,
}: {
  name: string;
  what: string;
  close: () => void;
  decline: (reason: string) => void;
}) {
  const [reason, setReason] = useState('');
  const said = reason.trim().length >= 3;
  return (
    <Sheet label={`Decline ${what} for ${name}`} width="32rem" written={reason !== ''} close={close}>
      <h2>
        Not {what} for {name}?
      </h2>
      <Quiet>Hidden for four weeks. Other coaches see your reason.</Quiet>
      <Row>
        {usual.map((words) => (
          <Button key={words} $quiet onPress={() => decline(words)}>
            {words}
          </Button>
        ))}
      </Row>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (said) decline(reason);
        }}
      >
        <TextField label="Or in your own words" value={reason} onChange={setReason} autoFocus />
        <Row style={{ marginTop: '0.8rem' }}>
          <Button type="submit" isDisabled={!said}>
            Decline
          </Button>
          <Button $quiet onPress={close}>
            Cancel
          </Button>
        </Row>
      </form>
    </Sheet>
  );
}
