import { type ReactNode, useState } from 'react';
import styled from 'styled-components';
import { Button } from './button';

const Line = styled.p`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.2rem 0.8rem;
  color: var(--muted);
`;

const storedAs = 'ulkret-understood';

/** The hints that somebody on this device has understood; what cannot be read counts as none. */
function understood(): string[] {
  try {
    const names: unknown = JSON.parse(localStorage.getItem(storedAs) ?? '[]');
    return Array.isArray(names) ? names.filter((name) => typeof name === 'string') : [];
  } catch {
    return [];
  }
}

/** One line of help where a thing is not obvious, until somebody has understood it once. */
export function Hint({ name, children }: { name: string; children: ReactNode }) {
  const [shown, setShown] = useState(() => !understood().includes(name));
  if (!shown) return null;
  return (
    <Line>
      <span>{children}</span>
      <Button
        $quiet
        onPress={() => {
          localStorage.setItem(storedAs, JSON.stringify([...understood(), name]));
          setShown(false);
        }}
      >
        Got it
      </Button>
    </Line>
  );
}

/** Lets every hint be shown again. */
export const forgetHints = (): void => localStorage.removeItem(storedAs);
