import { Button } from '../ui/button';
import { Sheet, SheetActions } from '../ui/dialog';
import { Quiet, Row } from '../ui/frame';
import { DeclineReason } from '@ulkret/core/prescription';
import { z } from 'zod';
import { Form, TextOf, useSchemaForm } from '../ui/form';

const Reason = z.object({ reason: DeclineReason });

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
  const { control, written, submit } = useSchemaForm(Reason, { reason: '' });
  return (
    <Sheet label={`Decline ${what} for ${name}`} width="32rem" written={written} close={close}>
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
      <Form onSubmit={(event) => void submit(({ reason }) => decline(reason))(event)}>
        <TextOf control={control} name="reason" label="Or in your own words" autoFocus />
        <SheetActions label="Decline" isDisabled={!written} close={close} />
      </Form>
    </Sheet>
  );
}
