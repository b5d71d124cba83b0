import { clockAt, type RoundClock, type Rounds, type Session } from '@ulkret/core/session';
import { useEffect, useEffectEvent, useRef, useState } from 'react';
import { VisuallyHidden } from 'react-aria/VisuallyHidden';
import { Button } from 'react-aria-components';
import styled from 'styled-components';
import { clock as timepiece } from '../../api/clock';
import { useMatLate } from './use-mat';
import { narrow, sideways } from './held';
import { type Signal, signalAt } from './signals';

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
  session: Rounds & Pick<Session, 'repsPerSide'>;
  onToggle: () => void;
  onSignal: (signal: Signal) => void;
}

const faceOf = (seconds: number): string =>
  `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`;

/** The round clock. It counts from instants, not from ticks, so a sleeping tab does not slow it, and all devices agree. */
export function Clock({ clock, session, onToggle, onSignal }: ClockProps) {
  const [now, setNow] = useState(() => timepiece.now());
  const running = clock.since !== null;
  const before = useRef(clockAt(clock, now, session));
  const tick = useEffectEvent(() => {
    const at = timepiece.now();
    const is = clockAt(clock, at, session);
    const signal = signalAt(before.current, is, session);
    before.current = is;
    if (signal) onSignal(signal);
    setNow(at);
  });
  const ended = useMatLate(({ common }) => common.now.endedAt !== null);
  useEffect(() => {
    before.current = clockAt(clock, timepiece.now(), session);
    if (!running || ended) return;
    const timer = setInterval(() => tick(), 250);
    return () => clearInterval(timer);
  }, [running, ended, clock, session]);
  const { round, left, resting, ranMs } = clockAt(
    clock,
    running ? Math.max(now, Date.parse(clock.since!)) : now,
    session,
  );
  const over = left === 0;
  return (
    <Face $over={over && resting === null} onPress={onToggle}>
      <VisuallyHidden elementType="span">Round clock </VisuallyHidden>
      <strong role="timer">{faceOf(resting ?? left)}</strong>
      {running && <VisuallyHidden elementType="span"> running: </VisuallyHidden>}
      <span>
        {over ? 'Next round' : running ? 'Pause' : ranMs > 0 ? 'Resume' : 'Start'}
        <br />
        <small>
          {resting === null ? '' : 'rest, '}round {round} of {Math.max(session.rounds, round)}
        </small>
      </span>
    </Face>
  );
}
