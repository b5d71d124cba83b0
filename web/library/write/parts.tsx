import { type ReactNode, useState } from 'react';
import styled from 'styled-components';
import { Button } from '../../ui/button';
import type { Path } from './writing';

export const Pane = styled.section`
  display: grid;
  gap: 0.7rem;
`;

const Folded = styled.details`
  isolation: isolate;
  border-top: 1px solid var(--line);
  padding-top: 0.5rem;
  > summary {
    cursor: pointer;
    font-weight: 650;
    min-height: 1.9rem;
  }
  > div {
    display: grid;
    gap: 0.6rem;
    padding: 0.4rem 0 0.6rem;
  }
`;

/** A part of the form that can be folded away; a finding in it opens it. */
export const Part = ({
  title,
  open = true,
  children,
}: {
  title: string;
  open?: boolean;
  children: ReactNode;
}) => (
  <Folded open={open}>
    <summary>{title}</summary>
    <div>{children}</div>
  </Folded>
);

const Fold = styled(Folded)`
  border-top: 0;
  border-left: 3px solid var(--line);
  padding: 0 0 0 0.7rem;
  > summary {
    font-weight: 400;
    min-height: 2.2rem;
    align-content: center;
  }
`;

/** One of several that are alike, by its name; drawn once it is opened. A new one is open, and stays so while it is given a name. */
export function Unfold({ name, path, children }: { name: string; path: Path; children: ReactNode }) {
  const [isNew] = useState(name === '');
  const [drawn, setDrawn] = useState(isNew);
  return (
    <Fold
      open={isNew}
      data-path={path.join('.')}
      onToggle={({ currentTarget }) => currentTarget.open && setDrawn(true)}
    >
      <summary>{name || <i>unnamed</i>}</summary>
      {drawn && <div>{children}</div>}
    </Fold>
  );
}

export const Two = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(9rem, 1fr));
  gap: 0.5rem;
`;

const Plain = styled(Button)`
  justify-self: start;
  min-height: 2.1rem;
  padding: 0 0.7rem;
  border-color: var(--line);
  font-weight: 400;
`;
export const Small = ({
  onClick,
  children,
  disabled = false,
  label,
}: {
  onClick: () => void;
  children: ReactNode;
  disabled?: boolean;
  label?: string;
}) => (
  <Plain $quiet onPress={onClick} isDisabled={disabled} aria-label={label}>
    {children}
  </Plain>
);
