import {
  Button as AriaButton,
  UNSTABLE_Toast as AriaToast,
  UNSTABLE_ToastContent as ToastContent,
  UNSTABLE_ToastQueue as ToastQueue,
  UNSTABLE_ToastRegion as ToastRegion,
  type QueuedToast,
} from 'react-aria-components';
import { useEffect } from 'react';
import styled from 'styled-components';

import { said, type ToastMessage, toast, toastSaid } from './toast';

/** Long enough to read it and to reach the button. */
const lastsMs = 8000;
const queue = new ToastQueue<ToastMessage>({ maxVisibleToasts: 2 });
const take = () => {
  for (const one of said.splice(0)) queue.add(one, { timeout: lastsMs });
};

/** A refusal is shown here too: the sheet it came from may be closed by now. */
async function takeBack({ words, undo }: ToastMessage): Promise<void> {
  try {
    await undo?.();
  } catch (error) {
    toast(`“${words}” was not undone. ${(error as Error).message}`);
  }
}

/** The region is moved to the end of the page by React Aria, so it carries its own place: in view at every size, over everything. */
const Region = styled(ToastRegion)`
  position: fixed;
  inset: auto 1rem 1rem auto;
  z-index: 30;
  display: grid;
  gap: 0.5rem;
  max-width: min(34rem, calc(100vw - 2rem));
  outline: none;
  @media (max-width: 640px) {
    inset: auto 0.5rem 4.8rem 0.5rem;
    max-width: none;
  }
  @media print {
    display: none;
  }
` as typeof ToastRegion;

const Face = styled(AriaToast)`
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 0.8rem;
  min-height: 3rem;
  padding: 0.3rem 0.5rem 0.3rem 1rem;
  border-radius: 8px;
  background: var(--ink);
  color: var(--surface);
` as typeof AriaToast;

const Act = styled(AriaButton)`
  min-height: 2.8rem;
  padding: 0 0.7rem;
  border: 0;
  border-radius: 6px;
  background: transparent;
  color: inherit;
  font-weight: 650;
  text-decoration: underline;
  cursor: pointer;
`;

/** Where messages show for a moment: once on every page. */
export default function Toasts() {
  useEffect(() => {
    take();
    window.addEventListener(toastSaid, take);
    return () => window.removeEventListener(toastSaid, take);
  }, []);
  return (
    <Region queue={queue} aria-label="What was done">
      {({ toast: one }: { toast: QueuedToast<ToastMessage> }) => (
        <Face toast={one}>
          <ToastContent>{one.content.words}</ToastContent>
          {one.content.undo && (
            <Act
              onPress={() => {
                void takeBack(one.content);
                queue.close(one.key);
              }}
            >
              Undo
            </Act>
          )}
          <Act slot="close" aria-label="Close">
            ×
          </Act>
        </Face>
      )}
    </Region>
  );
}
