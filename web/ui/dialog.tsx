import type { ReactNode } from 'react';
import { Dialog, Modal, ModalOverlay } from 'react-aria-components';
import styled from 'styled-components';
import { Button } from './button';
import { Row } from './frame';

const Behind = styled(ModalOverlay)`
  position: fixed;
  inset: 0;
  z-index: 20;
  display: grid;
  place-items: center;
  background: rgb(8 20 26 / 0.55);
`;

const Face = styled(Dialog)<{ $width: string; $tall: boolean }>`
  ${({ $tall }) => $tall && `button, [role='radio'], input { min-height: 48px; }`}
  display: grid;
  gap: 0.8rem;
  width: min(${({ $width }) => $width}, 96vw);
  max-height: 94dvh;
  overflow-y: auto;
  padding: 1.2rem 1.4rem;
  background: var(--surface);
  border: 1px solid var(--line);
  border-radius: 10px;
  fieldset {
    border: 0;
    margin: 0;
    padding: 0;
  }
`;

/**
 * A panel over everything, until it is closed: by its own buttons, by Escape, or by a press outside. If it holds typed
 * text, a press outside does nothing: a slip must not discard it.
 */
export const Sheet = ({
  label,
  width = '46rem',
  isOpen = true,
  written = false,
  tall = false,
  close,
  children,
}: {
  label: string;
  width?: string;
  isOpen?: boolean;
  written?: boolean;
  /** It is pressed on the mat, with wet hands. */
  tall?: boolean;
  close: () => void;
  children: ReactNode;
}) => (
  <Behind isOpen={isOpen} onOpenChange={(open) => !open && close()} isDismissable={!written}>
    <Modal>
      <Face $width={width} $tall={tall} aria-label={label}>
        {children}
      </Face>
    </Modal>
  </Behind>
);

/** The buttons at the foot of a sheet: what it does, what else can be done (`children`), and *Cancel*. */
export const SheetActions = ({
  label,
  onPress,
  isDisabled = false,
  tall = false,
  close,
  children,
}: {
  /** A verb and its object. */
  label: ReactNode;
  /** Without it the button submits the sheet's form. */
  onPress?: () => void;
  isDisabled?: boolean;
  tall?: boolean;
  close: () => void;
  children?: ReactNode;
}) => (
  <Row>
    <Button {...(onPress ? { onPress } : { type: 'submit' as const })} isDisabled={isDisabled} $tall={tall}>
      {label}
    </Button>
    {children}
    <Button $quiet $tall={tall} onPress={close}>
      Cancel
    </Button>
  </Row>
);
