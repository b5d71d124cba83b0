import { leftOf, type RoundClock } from '@ulkret/core/session';
import { useEffect, useEffectEvent, useRef, useState } from 'react';
import { VisuallyHidden } from 'react-aria/VisuallyHidden';
import { Button } from 'react-aria-components';
import styled from 'styled-components';
import { clock as timepiece } from '../api/clock';
import { narrow, sideways } from './held';
import { type Signal, signalBetween } from './signals';

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
    line-height: 1.15;
    text-align: left;
  }
  ${narrow} {
    padding: 0 0.4rem;
    gap: 0.4rem;
    strong {
      font-size: 1.9rem;
    }
  }
  @media (max-width: 380px) {
    gap: 0.3rem;
    strong {
      font-size: 1.6rem;
    }
    span {
      font-size: 0.8rem;
    }
  }
  ${sideways} {
    min-height: 48px;
    padding: 0 0.5rem;
    strong {
      font-size: 1.8rem;
    }
  }
`;

interface ClockProps {
  clock: RoundClock;
  roundSeconds: number;
  rounds: number;
  /** Does the clock, and not the count of reps, change sides? */
  byTheClock: boolean;
  onToggle: () => void;
  onSignal: (signal: Signal) => void;
}

/** The round clock. It counts from instants, not from ticks, so a sleeping tab does not slow it, and all devices agree. */
export function Clock({ clock, roundSeconds, rounds, byTheClock, onToggle, onSignal }: ClockProps) {
  const [now, setNow] = useState(() => timepiece.now());
  const running = clock.since !== null;
  const before = useRef(leftOf(clock, now, roundSeconds));
  const tick = useEffectEvent(() => {
    const at = timepiece.now();
    const left = leftOf(clock, at, roundSeconds);
    const signal = signalBetween(before.current, left, roundSeconds, byTheClock);
    before.current = left;
    if (signal) onSignal(signal);
    setNow(at);
  });
  useEffect(() => {
    before.current = leftOf(clock, timepiece.now(), roundSeconds);
    if (!running) return;
    const timer = setInterval(() => tick(), 250);
    return () => clearInterval(timer);
  }, [running, clock, roundSeconds]);
  const left = leftOf(clock, running ? Math.max(now, Date.parse(clock.since!)) : now, roundSeconds);
  const over = left === 0;
  const face = `${Math.floor(left / 60)}:${String(left % 60).padStart(2, '0')}`;
  return (
    <Face $over={over} onPress={onToggle}>
      <VisuallyHidden elementType="span">Round clock </VisuallyHidden>
      <strong role="timer">{face}</strong>
      {running && <VisuallyHidden elementType="span"> running: </VisuallyHidden>}
      <span>
        {over ? 'Next round' : running ? 'Pause' : clock.ranMs > 0 ? 'Go on' : 'Start'}
        <br />
        <small>
          round {clock.round} of {Math.max(rounds, clock.round)}
        </small>
      </span>
    </Face>
  );
}
