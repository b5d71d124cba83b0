import { signOffWords } from '@ulkret/core/prescription';
import { memo } from 'react';
import styled from 'styled-components';
import type { Turn, Watched } from '@ulkret/core/session';
import { Eye } from 'lucide-react';
import { narrow, short, sideways } from './held';
import { type PairView, workShort } from './pair-view';
import { RepMark } from '../strand/RepMark';

const Face = styled.button`
  contain: strict;
  content-visibility: auto;
  will-change: transform;
  display: grid;
  gap: 0.2rem;
  flex: none;
  height: 7.4rem;
  width: 100%;
  padding: 0.35rem 0.7rem;
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
  &[data-grave='stop'] {
    border-left-color: var(--stop);
  }
  &[data-grave='care'] {
    border-left-color: var(--soft);
  }
  align-content: start;
  p {
    font-size: 1.05rem;
    line-height: 1.3;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  small {
    color: var(--muted);
    font-size: 0.86rem;
    white-space: nowrap;
  }
  div {
    display: flex;
    gap: 0.25rem;
    min-height: 1.55rem;
    align-items: center;
    justify-content: space-between;
  }
  div:last-child {
    min-height: 14px;
  }
  div > span {
    display: flex;
    gap: 0.25rem;
  }
  em {
    font-style: normal;
    font-weight: 650;
    color: var(--action);
  }
  ${narrow} {
    height: 5rem;
    padding: 0.25rem 0.6rem;
    div:not(:last-child) {
      display: none;
    }
  }
  ${short} {
    height: 3.6rem;
    div {
      display: none;
    }
  }
  ${sideways} {
    height: 7.8rem;
    padding: 0.25rem 0.5rem;
    p,
    small {
      white-space: normal;
    }
    div {
      display: none;
    }
  }
`;

interface PairTileProps {
  place: number;
  view: PairView;
  turn: Turn;
  /** The name of the technique that the pair has gone on to; null where it drills that of the class. */
  gone: string | null;
  repsPerSide: number | null;
  active: boolean;
  /** Set where this pair's next rep would teach most of all in this class. */
  watch: Watched | null;
  nameOf: (id: string) => string;
  numberOf: (checkpoint: string) => number;
  onChoose: (place: number) => void;
}

const marks = 5;

/** Is somebody kept from going on, or is care asked for? */
export const gravity = ({ permit, stopped, caps }: PairView): 'stop' | 'care' | undefined =>
  stopped || permit.verdict === 'not allowed'
    ? 'stop'
    : caps.some(({ spent, cap }) => spent >= cap) || permit.verdict === 'with care'
      ? 'care'
      : undefined;

/** How often the partner was taken to the finish, of how often the house's rules let it: a pip each. */
function Pips({ spent, cap, counts }: PairView['caps'][number]) {
  const width = 6;
  const full = spent >= cap;
  return (
    <svg
      width={cap * (width + 2)}
      height="14"
      role="img"
      aria-label={`${spent} of ${cap} ${counts}${full ? ': at the cap' : ''}`}
    >
      {Array.from({ length: cap }, (_, i) => (
        <rect
          key={i}
          x={i * (width + 2) + 0.75}
          y="1.5"
          width={width - 1}
          height="11"
          rx="1.5"
          fill={i < spent ? (full ? 'var(--stop)' : 'var(--rope)') : 'none'}
          stroke={full ? 'var(--stop)' : 'var(--rope)'}
        />
      ))}
    </svg>
  );
}

/** One pair in the order in which the coach walks: who attacks whom, on which side, the last five reps, and what weighs on them. */
export const PairTile = memo(function PairTile({
  place,
  view,
  turn,
  gone,
  repsPerSide,
  active,
  watch,
  nameOf,
  numberOf,
  onChoose,
}: PairTileProps) {
  const { reps, permit, caps, work, stopped } = view;
  const [cap] = caps;
  const from = watch?.startAt ? ` from ${numberOf(watch.startAt)}` : ' next';
  return (
    <Face
      type="button"
      onClick={() => onChoose(place)}
      aria-pressed={active}
      data-testid="pair"
      data-grave={gravity(view)}
    >
      <p>
        {watch && (
          <Eye size={17} role="img" aria-label={`Watch${from}`} style={{ verticalAlign: '-0.15em' }} />
        )}
        {watch && ' '}
        <strong>{nameOf(turn.student)}</strong>
        {turn.partner && <> on {nameOf(turn.partner)}</>}
      </p>
      <small>
        {turn.side} side, {turn.done}
        {repsPerSide !== null && ` of ${repsPerSide}`}
        {gone && <em>{` · ${gone}`}</em>}
        {work && !gone && (
          <>
            {' · '}
            <em title={signOffWords(work.test)}>
              {work.place + 1}: {workShort(work)}
            </em>
          </>
        )}
      </small>
      <div>
        <span>
          {reps.slice(-marks).map((rep) => (
            <RepMark key={rep.id} rep={rep} numberOf={numberOf} />
          ))}
        </span>
      </div>
      <div>
        {stopped ? (
          <small>Stopped for safety</small>
        ) : permit.verdict === 'not allowed' ? (
          <small>Not allowed</small>
        ) : (
          cap && <Pips {...cap} />
        )}
        {watch && <small>Watch{from}</small>}
      </div>
    </Face>
  );
});
