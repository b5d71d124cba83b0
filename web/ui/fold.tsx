import { ChevronDown } from 'lucide-react';
import { type ReactNode, Suspense } from 'react';
import { Button, Disclosure, DisclosurePanel } from 'react-aria-components';
import styled from 'styled-components';

const Folding = styled(Disclosure)`
  display: grid;
  gap: 0.6rem;
  min-width: 0;
  > button {
    justify-self: start;
    display: inline-flex;
    align-items: center;
    gap: 0.4rem;
    max-width: 100%;
    min-height: 2.3rem;
    padding: 0 0.2rem;
    border: 0;
    background: transparent;
    color: var(--action);
    font-weight: 600;
    text-align: left;
    cursor: pointer;
    svg {
      flex: none;
    }
  }
  &[data-expanded] > button svg {
    rotate: 180deg;
  }
`;

/** One line that says what is in it, and opens to it; what is in it is drawn once it is open. */
export const Fold = ({ says, children }: { says: string; children: () => ReactNode }) => (
  <Folding>
    {({ isExpanded }) => (
      <>
        <Button slot="trigger">
          {says}
          <ChevronDown size={16} aria-hidden />
        </Button>
        <DisclosurePanel>{isExpanded && <Suspense>{children()}</Suspense>}</DisclosurePanel>
      </>
    )}
  </Folding>
);
