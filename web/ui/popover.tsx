import type { ReactNode, RefObject } from 'react';
import { Dialog, Popover as AriaPopover } from 'react-aria-components';
import styled from 'styled-components';

const Face = styled(Dialog)`
  background: var(--surface);
  border: 1px solid var(--line);
  border-radius: 8px;
  padding: 1.1rem;
  display: grid;
  gap: 0.9rem;
  min-width: 17rem;
  /* A phone held sideways is lower than the list. */
  max-height: 92dvh;
  overflow-y: auto;
`;

/** Opens next to the pressed thing, and closes by Escape or a press elsewhere. */
export const Popover = ({
  label,
  at,
  close,
  children,
}: {
  label: string;
  /** Next to what it opens. */
  at: RefObject<HTMLElement | null>;
  close: () => void;
  children: ReactNode;
}) => (
  <AriaPopover triggerRef={at} isOpen onOpenChange={(open) => !open && close()} placement="right bottom">
    <Face aria-label={label}>{children}</Face>
  </AriaPopover>
);
