import type { Permit } from '@ulkret/core/care';
import { useState } from 'react';
import { Dialog, Modal, ModalOverlay } from 'react-aria-components';
import { Button, Quiet, Row } from '../ui/ui';
import { Sheet } from './layout';

export const shortestReason = 10;

/** A coach lets two adults drill what the house's rules refuse, in writing. */
export function OverridePanel({
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
    <ModalOverlay isOpen onOpenChange={close} isDismissable className="overlay">
      <Modal>
        <Sheet as={Dialog} aria-label="Let them drill it">
          <h2>{who}</h2>
          <ul>
            {permit.reasons.map(({ words }) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
          <label>
            <strong>Why you let them drill it</strong>
            <textarea value={reason} maxLength={500} onChange={(event) => setReason(event.target.value)} />
          </label>
          <Quiet>
            Kept with your name, for this session alone. It lets them learn and drill, never spar.
          </Quiet>
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
      </Modal>
    </ModalOverlay>
  );
}
