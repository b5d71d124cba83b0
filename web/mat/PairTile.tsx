import { type Rep, sameTurn, type Turn } from '@ulkret/core/rep';
import { memo } from 'react';
import styled from 'styled-components';
import { RepMark } from './RepMark';

const Face = styled.button`
  contain: strict;
  will-change: transform;
  display: grid;
  gap: 0.35rem;
  flex: none;
  height: 6.1rem;
  width: 100%;
  padding: 0.55rem 0.75rem;
  border: 2.5px solid transparent;
  border-radius: 10px;
  background: var(--surface);
  text-align: left;
  cursor: pointer;
  touch-action: manipulation;
  &[aria-pressed='true'] {
    border-color: var(--action);
    background: var(--wash);
  }
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
  place: number;
  turn: Turn;
  repsPerSide: number;
  reps: readonly Rep[];
  active: boolean;
  nameOf: (id: string) => string;
  numberOf: (checkpoint: string) => number;
  onChoose: (place: number) => void;
}

/** Reps only come and go at the end or by a void, so a tile looks the same while their number and the last one are. */
const looksTheSame = (a: PairTileProps, b: PairTileProps): boolean =>
  a.active === b.active &&
  a.nameOf === b.nameOf &&
  sameTurn(a.turn, b.turn) &&
  a.turn.done === b.turn.done &&
  a.reps.length === b.reps.length &&
  a.reps.slice(-marks).every(({ id }, i) => id === b.reps.at(i - Math.min(marks, b.reps.length))?.id);

const marks = 5;

/** One pair in the order in which the coach walks: who attacks whom, on which side, and the last five reps. */
export const PairTile = memo(function PairTile({
  place,
  turn,
  repsPerSide,
  reps,
  active,
  nameOf,
  numberOf,
  onChoose,
}: PairTileProps) {
  return (
    <Face type="button" onClick={() => onChoose(place)} aria-pressed={active} data-testid="pair">
      <p>
        <strong>{nameOf(turn.student)}</strong>
        {turn.partner && <> on {nameOf(turn.partner)}</>}
      </p>
      <small>
        {turn.side} side, {turn.done} of {repsPerSide}
      </small>
      <div>
        {reps.slice(-marks).map((rep) => (
          <RepMark key={rep.id} rep={rep} numberOf={numberOf} />
        ))}
      </div>
    </Face>
  );
}, looksTheSame);
