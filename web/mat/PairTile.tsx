import type { Rep, Turn } from '@ulkret/core/rep';
import { memo } from 'react';
import { Button } from 'react-aria-components';
import styled from 'styled-components';
import { RepMark } from './RepMark';

const Face = styled(Button)<{ $active: boolean }>`
  display: grid;
  gap: 0.35rem;
  flex: none;
  min-height: 5.2rem;
  width: 100%;
  padding: 0.55rem 0.75rem;
  border: 2.5px solid ${({ $active }) => ($active ? 'var(--action)' : 'transparent')};
  border-radius: 10px;
  background: ${({ $active }) => ($active ? 'var(--wash)' : 'var(--surface)')};
  text-align: left;
  cursor: pointer;
  touch-action: manipulation;
  p {
    font-size: 1.05rem;
    line-height: 1.15;
  }
  small {
    color: var(--muted);
    font-size: 0.86rem;
  }
  div {
    display: flex;
    gap: 0.25rem;
    min-height: 1.55rem;
  }
`;

interface PairTileProps {
  turn: Turn;
  repsPerSide: number;
  reps: readonly Rep[];
  active: boolean;
  nameOf: (id: string) => string;
  numberOf: (checkpoint: string) => number;
  onChoose: () => void;
}

/** One pair in the order in which the coach walks: who attacks whom, on which side, and the last five reps. */
export const PairTile = memo(function PairTile({
  turn,
  repsPerSide,
  reps,
  active,
  nameOf,
  numberOf,
  onChoose,
}: PairTileProps) {
  return (
    <Face $active={active} onPress={onChoose} aria-pressed={active} data-testid="pair">
      <p>
        <strong>{nameOf(turn.student)}</strong>
        {turn.partner && <> on {nameOf(turn.partner)}</>}
      </p>
      <small>
        {turn.side} side, {turn.done} of {repsPerSide}
      </small>
      <div>
        {reps.slice(-5).map((rep) => (
          <RepMark key={rep.id} rep={rep} numberOf={numberOf} />
        ))}
      </div>
    </Face>
  );
});
