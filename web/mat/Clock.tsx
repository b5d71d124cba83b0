import { useEffect, useState } from 'react';
import { VisuallyHidden } from 'react-aria/VisuallyHidden';
import { Button } from 'react-aria-components';
import styled from 'styled-components';
import { type Clocked, leftOf } from './clocked';

const Face = styled(Button)<{ $over: boolean }>`
  border: 0;
  border-radius: 8px;
  min-height: 3.4rem;
  padding: 0 0.8rem;
  display: flex;
  align-items: center;
  gap: 0.7rem;
  background: ${({ $over }) => ($over ? 'var(--stop)' : 'var(--raised)')};
  color: ${({ $over }) => ($over ? 'var(--surface)' : 'var(--ink)')};
  cursor: pointer;
  strong {
    font-size: 2.9rem;
    line-height: 1;
    font-weight: 700;
    letter-spacing: -0.02em;
  }
  span {
    font-size: 0.9rem;
    text-align: left;
  }
  @media (max-width: 760px) {
    padding: 0 0.5rem;
    strong {
      font-size: 2.3rem;
    }
  }
`;

/** The round clock. It counts from instants, not from ticks, so a sleeping tab does not slow it. */
export function Clock({
  clock,
  roundSeconds,
  onToggle,
}: {
  clock: Clocked;
  roundSeconds: number;
  onToggle: () => void;
}) {
  const [now, setNow] = useState(() => Date.now());
  const running = clock.since !== null;
  useEffect(() => {
    if (!running) return;
    const timer = setInterval(() => setNow(Date.now()), 250);
    return () => clearInterval(timer);
  }, [running]);
  const left = leftOf(clock, now, roundSeconds);
  const over = left === 0;
  const face = `${Math.floor(left / 60)}:${String(left % 60).padStart(2, '0')}`;
  return (
    <Face $over={over} onPress={onToggle}>
      <VisuallyHidden elementType="span">Round clock </VisuallyHidden>
      <strong role="timer">{face}</strong>
      {running && <VisuallyHidden elementType="span"> running: </VisuallyHidden>}
      <span>{over ? 'Round over' : running ? 'Pause' : clock.ranMs > 0 ? 'Go on' : 'Start'}</span>
    </Face>
  );
}
