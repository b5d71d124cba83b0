import { Dialog, Modal, ModalOverlay } from 'react-aria-components';
import { Button } from '../shell/ui';
import { matKeys } from './keys';
import { Keys } from './layout';

/** The keys of the Mat, over everything else until it is closed. */
export const KeyList = ({ close }: { close: () => void }) => (
  <ModalOverlay isOpen onOpenChange={close} isDismissable className="overlay">
    <Modal>
      <Keys as={Dialog} aria-label="Keys of the Mat">
        <h2>Keys</h2>
        <dl>
          {matKeys.map(([key, what]) => (
            <div key={key}>
              <dt>{key}</dt>
              <dd>{what}</dd>
            </div>
          ))}
        </dl>
        <Button onPress={close}>Close</Button>
      </Keys>
    </Modal>
  </ModalOverlay>
);
