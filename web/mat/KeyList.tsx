import { type KeyboardEvent, useState } from 'react';
import { Dialog, Modal, ModalOverlay } from 'react-aria-components';
import { Button, Quiet, Row } from '../ui/ui';
import { type Command, commands, fixedKeys, keepKeys, keyName, type Keys, usualKeys, withKey } from './keys';
import { Keys as Face } from './layout';

/** The keys of the Mat, over everything else until it is closed; each can be given another key on this device. */
export function KeyList({
  keys,
  onKeys,
  close,
}: {
  keys: Keys;
  onKeys: (keys: Keys) => void;
  close: () => void;
}) {
  const [listening, setListening] = useState<Command | null>(null);
  const give = (next: Keys) => {
    keepKeys(next);
    onKeys(next);
  };
  const take = (event: KeyboardEvent) => {
    if (!listening) return;
    event.preventDefault();
    event.stopPropagation();
    if (['Shift', 'Control', 'Alt', 'Meta'].includes(event.key)) return;
    if (event.key !== 'Escape') give(withKey(keys, listening, event.key));
    setListening(null);
  };
  return (
    <ModalOverlay isOpen onOpenChange={close} isDismissable className="overlay">
      <Modal>
        <Dialog aria-label="Keys of the Mat">
          <Face onKeyDownCapture={take}>
            <h2>Keys</h2>
            <dl>
              {fixedKeys.map(([key, what]) => (
                <div key={key}>
                  <dt>{key}</dt>
                  <dd>{what}</dd>
                </div>
              ))}
              {commands.map(({ name, what }) => (
                <div key={name}>
                  <dt>
                    {listening === name ? 'press a key …' : keys[name].map(keyName).join(' or ') || 'no key'}
                  </dt>
                  <dd>
                    {what}
                    <button
                      type="button"
                      aria-label={`${listening === name ? 'Cancel' : 'Change'} the key for: ${what}`}
                      onClick={() => setListening(listening === name ? null : name)}
                    >
                      {listening === name ? 'Cancel' : 'Change'}
                    </button>
                  </dd>
                </div>
              ))}
            </dl>
            <Quiet>A clicker usually sends PageDown and PageUp. Digits always mean knots.</Quiet>
            <Row>
              <Button onPress={close}>Close</Button>
              <Button $quiet onPress={() => give(usualKeys)}>
                The usual keys
              </Button>
            </Row>
          </Face>
        </Dialog>
      </Modal>
    </ModalOverlay>
  );
}
