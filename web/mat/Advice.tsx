import { placeOf, readFor, type Breakdown, type Technique } from '@ulkret/core/breakdown';
import { lastBeforeLoad } from '@ulkret/core/care';
import { signOffWords } from '@ulkret/core/prescription';
import type { Rep, Rung } from '@ulkret/core/rep';
import { doublesIn, type Watched } from '@ulkret/core/session';
import { type ReactNode, useMemo, useState } from 'react';
import styled from 'styled-components';
import { useMay } from '../api/may';
import { narrow, short, sideways } from './held';
import { late } from './late';
import type { PairView } from './pair-view';

/** Where there is no room for what was said, it stands here for a moment. */
const saidHere = `
    .said:not(:empty) {
      display: inline;
    }
    .said:not(:empty) ~ span {
      display: none;
    }
`;

/** Always of one height: what it says comes and goes, and no knot moves. */
const AdviceLine = styled.div`
  grid-area: advice;
  contain: strict;
  height: 52px;
  display: flex;
  align-items: center;
  gap: 0.8rem;
  padding: 0 0.3rem 0 0.8rem;
  border-radius: 10px;
  background: var(--raised);
  line-height: 1.15;
  &[data-grave='stop'] {
    background: var(--stop-wash);
    border-left: 5px solid var(--stop);
  }
  &[data-grave='care'] {
    background: var(--soft-wash);
    border-left: 5px solid var(--soft);
  }
  .said {
    display: none;
  }
  ${narrow} {
    ${saidHere}
  }
  ${sideways} {
    ${saidHere}
  }
  p {
    flex: 1;
    overflow: hidden;
    display: -webkit-box;
    -webkit-line-clamp: 2;
    -webkit-box-orient: vertical;
  }
  p[data-two] {
    display: block;
    span {
      display: block;
      overflow: hidden;
      white-space: nowrap;
      text-overflow: ellipsis;
    }
  }
  button {
    flex: none;
    min-height: 44px;
    padding: 0 0.8rem;
    border: 1.5px solid var(--action);
    border-radius: 8px;
    background: var(--surface);
    color: var(--action);
    font-weight: 600;
    cursor: pointer;
    touch-action: manipulation;
  }
  ${short} {
    height: 48px;
  }
  ${sideways} {
    height: 46px;
    font-size: 0.9rem;
  }
  ${narrow} {
    font-size: 0.9rem;
    gap: 0.3rem;
    button {
      padding: 0 0.5rem;
    }
  }
`;

interface AdviceProps {
  view: PairView;
  /** Set where the next rep of whoever attacks would teach most of all in this class. */
  watch: Watched | null;
  breakdown: Breakdown;
  technique: Technique;
  /** What the house says of tapping, for when there is nothing else to be said. */
  tap: string;
  /** What was just said: on a phone it stands here. */
  said: string;
  rung: Rung;
  nameOf: (id: string) => string;
  /** What a rep was, in a few words, with who logged it. */
  told: (rep: Rep) => string;
  onSwap: () => void;
  onSpan: (to: string | null) => void;
  onVoid: (rep: Rep) => void;
  /** The class has been ended, on this device or another. */
  ended: boolean;
  /** The technique that the pair has gone on to; null where it drills that of the class. */
  gone: Technique | null;
  onBack: () => void;
  onReopen: () => void;
  onOverride: () => void;
  onNote: () => void;
  /** Shows the cue and the drill of what is worked on. */
  onWork: () => void;
}

/** Two reps of this pair that look like one seen by two coaches, and a way to be asked about neither of them again. */
function useDouble({ members, reps }: PairView): [readonly [Rep, Rep] | null, () => void] {
  const [settled, setSettled] = useState<ReadonlySet<string>>(new Set());
  const double = useMemo(
    () =>
      members
        .flatMap((one) => doublesIn(reps.filter(({ student }) => student === one).slice(-lookedAt)))
        .findLast((two) => two.every(({ id }) => !settled.has(id))) ?? null,
    [members, reps, settled],
  );
  return [double, () => setSettled(new Set([...settled, ...(double ?? []).map(({ id }) => id)]))];
}

/** How many of the last reps of a student may be one of two. */
const lookedAt = 30;

/** The one thing about the active pair that a coach must know now, and what to do about it. Always of the same height. */
export const Advice = late(function Advice({
  view,
  watch,
  breakdown,
  technique,
  tap,
  said,
  rung,
  nameOf,
  told,
  onSwap,
  onSpan,
  onVoid,
  ended,
  gone,
  onBack,
  onReopen,
  onOverride,
  onNote,
  onWork,
}: AdviceProps) {
  const { permit, caps, stopped, work, turn, span } = view;
  const [double, settle] = useDouble(view);
  const decides = useMay('coach');
  const works = work && (
    <>
      {nameOf(turn.student)} works on {work.place + 1} “
      {readFor(breakdown.checkpoints[work.place]!.title, turn.side)}”:{' '}
      {work.counts ? signOffWords(work.test) : `counts from rung ${work.rung} up, this is ${rung}.`}
    </>
  );
  const line = (grave: 'stop' | 'care' | undefined, words: ReactNode, ...buttons: [string, () => void][]) => (
    <AdviceLine data-grave={grave} role="note" aria-label="What to know about this pair">
      <p data-two={(grave === 'care' && works && words !== works) || undefined}>
        <span className="said" aria-hidden>
          {said}
        </span>
        <span>{words}</span>
        {grave === 'care' && works && <span>{works}</span>}
      </p>
      {buttons.map(([text, act]) => (
        <button key={text} type="button" onClick={act}>
          {text}
        </button>
      ))}
    </AdviceLine>
  );
  if (ended)
    return line('stop', 'This class has ended: reopen it to log more reps.', ['Reopen the class', onReopen]);
  if (stopped)
    return line(
      'stop',
      <>
        <strong>Stopped for safety.</strong> Say what went wrong: then they go on, or not.
      </>,
      ['What went wrong?', onNote],
    );
  if (gone)
    return permit.verdict === 'not allowed'
      ? line('stop', permit.reasons[0]?.words, ['Back', onBack])
      : line(
          gone.loadSpeed === 'fast' || permit.verdict === 'with care' ? 'care' : undefined,
          <>
            <strong>{gone.name}:</strong> {nameOf(turn.student)} has gone on to it. How does it end?{' '}
            {permit.reasons[0]?.words}
          </>,
          ['Back', onBack],
        );
  if (permit.verdict === 'not allowed')
    return line(
      'stop',
      <>
        <strong>Not allowed:</strong> {permit.reasons[0]?.words}
      </>,
      ['Swap roles', onSwap],
      ...(permit.overridable && decides
        ? [['Let them, and say why', onOverride] as [string, () => void]]
        : []),
    );
  if (double)
    return line(
      'care',
      <>Logged twice? {double.map(told).join(', and ')}.</>,
      ...double.map((rep): [string, () => void] => [
        `Void ${told(rep).split(':')[0]}`,
        () => {
          settle();
          onVoid(rep);
        },
      ]),
      ['Both stand', settle],
    );
  const full = caps.find(({ spent, cap }) => spent >= cap);
  const spared = lastBeforeLoad(breakdown, technique);
  const capped = full?.whom === 'student' ? turn.student : turn.partner;
  if (full && capped)
    return line(
      'care',
      <>
        <strong>{nameOf(capped)} is at the cap:</strong> {full.spent} of {full.cap} {full.counts}.
      </>,
      ['Swap roles', onSwap],
      ...(spared ? [['Stop before the finish', () => onSpan(spared)] as [string, () => void]] : []),
    );
  if (span.to !== null && span.to === spared && caps.length === 0)
    return line(undefined, 'Stop before the finish: no load.', ['Full technique', () => onSpan(null)]);
  if (permit.verdict === 'with care')
    return line(
      'care',
      permit.reasons.map(({ words }) => words).join(' '),
      ...(works ? [['Cue and drill', onWork] as [string, () => void]] : []),
    );
  if (works) return line(undefined, works, ['Cue and drill', onWork]);
  if (watch) {
    const place = placeOf(breakdown, watch.checkpoint);
    return line(
      undefined,
      <>
        Watch {nameOf(turn.student)}: the next rep teaches most, about {place + 1} “
        {readFor(breakdown.checkpoints[place]!.title, turn.side)}”{watch.startAt && '; let it start there'}.
      </>,
    );
  }
  return line(undefined, `${technique.loadSpeed === 'fast' ? 'Fast lock: put it on slowly. ' : ''}${tap}`);
});
