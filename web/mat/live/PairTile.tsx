import { placeOf } from '@ulkret/core/breakdown';
import type { CapState } from '@ulkret/core/care';
import { signOffWords } from '@ulkret/core/prescription';
import { type PairView, type WatchedStudent, workShort } from '@ulkret/core/session';
import { Eye } from 'lucide-react';
import { memo } from 'react';
import styled from 'styled-components';
import { RepMark } from '../../strand/RepMark';
import { narrow, sideways } from './held';
import { useMatStore } from './use-mat';
import { useNumberOf } from './use-number-of';

const Face = styled.button`
  contain: strict;
  content-visibility: auto;
  display: flex;
  flex-direction: column;
  gap: 0.1rem;
  min-width: 0;
  padding: 0.2rem 0.6rem;
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
  > * {
    display: flex;
    flex: none;
    align-items: center;
    justify-content: space-between;
    gap: 0.3rem;
    min-width: 0;
    > :first-child {
      min-width: 0;
      overflow: hidden;
      white-space: nowrap;
      text-overflow: ellipsis;
    }
  }
  p {
    font-size: 1rem;
    line-height: 1.2;
  }
  small {
    flex: none;
    color: var(--muted);
    font-size: 0.84rem;
    line-height: 1.15;
    white-space: nowrap;
  }
  em {
    font-style: normal;
    font-weight: 650;
    color: var(--action);
  }
  .marks {
    display: flex;
    flex: none;
    gap: 2px;
    > * {
      width: 1.1rem;
      height: 1.1rem;
      border-width: 1.5px;
      font-size: 0.74rem;
    }
  }
  > div {
    min-height: 14px;
  }
  ${narrow} {
    padding: 0.15rem 0.35rem;
    gap: 0;
    > * > :first-child {
      white-space: normal;
      overflow-wrap: anywhere;
    }
    p {
      flex-direction: column;
      align-items: start;
      gap: 0;
      font-size: 0.86rem;
      line-height: 1.1;
    }
    small {
      font-size: 0.76rem;
      line-height: 1.1;
    }
    .marks,
    .wide,
    > .last {
      display: none;
    }
  }
  ${sideways} {
    > * > :first-child {
      white-space: normal;
    }
    p {
      flex-direction: column;
      align-items: start;
      gap: 0;
      font-size: 0.92rem;
    }
    .marks {
      display: none;
    }
  }
`;

interface PairTileProps {
  view: PairView;
  /** The name of the technique that the pair has gone on to; null where it drills that of the class. */
  gone: string | null;
  repsPerSide: number | null;
  active: boolean;
  /** Set where this pair's next rep would teach most of all in this class. */
  watch: WatchedStudent | null;
  /** Minutes since the pair was last seen; null where that is not long. */
  unseenMinutes: number | null;
  onChoose: (key: string) => void;
}

const marks = 5;

/** Is somebody kept from going on, or is care asked for? */
const gravity = ({ permit, stopped, caps }: PairView): 'stop' | 'care' | undefined =>
  stopped || permit.verdict === 'not allowed'
    ? 'stop'
    : caps.some(({ spent, cap }) => spent >= cap) || permit.verdict === 'with care'
      ? 'care'
      : undefined;

/** Upright bars in a row, from one to another. */
const bars = (from: number, to: number, width: number): string =>
  Array.from(
    { length: Math.max(0, to - from) },
    (_, i) => `M${(from + i) * (width + 2) + 0.75} 1.5h${width - 1}v11h${1 - width}z`,
  ).join('');

/** How often somebody was taken to the finish today, of how often the house's rules let it: a pip each. */
const Pips = memo(function Pips({ spent, cap, counts }: Pick<CapState, 'spent' | 'cap' | 'counts'>) {
  const width = cap > 12 ? 4 : 6;
  const full = spent >= cap;
  const ink = full ? 'var(--stop)' : 'var(--rope)';
  return (
    <svg
      width={cap * (width + 2)}
      height="14"
      role="img"
      aria-label={`${spent} of ${cap} ${counts} today${full ? ': at the cap' : ''}`}
    >
      <path d={bars(0, Math.min(spent, cap), width)} fill={ink} stroke={ink} />
      <path d={bars(Math.min(spent, cap), cap, width)} fill="none" stroke={ink} />
    </svg>
  );
});

/** Which sides the pair drills, where it is not both in turn. */
const sidesWords = { both: '', right: ' only', left: ' only', random: ', at random' } as const;

/** One pair: who attacks whom, who waits, on which side and rung, the last five reps, and what weighs on them. */
export const PairTile = memo(function PairTile({
  view,
  gone,
  repsPerSide,
  active,
  watch,
  unseenMinutes,
  onChoose,
}: PairTileProps) {
  const { nameOf, breakdown } = useMatStore().knows();
  const numberOf = useNumberOf();
  const { reps, turn, waits, own, permit, caps, work, stopped } = view;
  const [cap] = caps;
  const from = watch?.startAt ? ` from ${placeOf(breakdown, watch.startAt) + 1}` : ' next';
  return (
    <Face
      type="button"
      onClick={() => onChoose(view.key)}
      aria-pressed={active}
      data-testid="pair"
      data-grave={gravity(view)}
    >
      <p>
        <span>
          {watch && (
            <Eye size={17} role="img" aria-label={`Watch${from}`} style={{ verticalAlign: '-0.15em' }} />
          )}
          {watch && ' '}
          <strong>{nameOf(turn.student)}</strong>
          {turn.partner && <> on {nameOf(turn.partner)}</>}
          {waits.length > 0 && <>, {waits.map(nameOf).join(', ')} waits</>}
        </span>{' '}
        <small>rung {own.rung}</small>
      </p>
      <div>
        <small data-testid="count">
          {turn.side}
          <span className="wide"> side</span>
          {sidesWords[own.sides]}, {turn.done}
          {repsPerSide !== null && ` of ${repsPerSide}`}
        </small>{' '}
        <span className="marks">
          {reps.slice(-marks).map((rep) => (
            <RepMark key={rep.id} rep={rep} numberOf={numberOf} />
          ))}
        </span>
      </div>
      <div className="last">
        <small>
          {stopped ? (
            'Stopped for safety'
          ) : permit.verdict === 'not allowed' ? (
            'Not allowed'
          ) : gone ? (
            <em>{gone}</em>
          ) : unseenMinutes !== null ? (
            `not seen for ${unseenMinutes} min`
          ) : (
            work && (
              <em title={signOffWords(work.test)}>
                {work.place + 1}: {workShort(work)}
              </em>
            )
          )}
        </small>
        {cap && !stopped && <Pips spent={cap.spent} cap={cap.cap} counts={cap.counts} />}
      </div>
    </Face>
  );
});
