import { type Draft, type Id, moveCheckpoint, placeOf } from '@ulkret/core/breakdown';
import { memo, type PointerEvent, useCallback, useRef, useState } from 'react';
import styled from 'styled-components';
import { Quiet } from '../ui/frame';
import { type Knot, Strand } from '../strand/Strand';
import { useSame } from './fields';

const KnotRow = styled.div`
  /* Laid out and painted by itself: a new title moves nothing else. */
  contain: size layout style;
  isolation: isolate;
  height: calc(var(--row-height) - 2px);
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  align-items: center;
  gap: 0.2rem;
  border-radius: 8px;
  padding: 0.1rem 0.2rem;
  &[data-chosen] {
    background: var(--wash);
  }
  &[data-over] {
    outline: 2px dashed var(--action);
  }
  > button:first-child {
    border: 0;
    background: transparent;
    text-align: left;
    color: inherit;
    cursor: pointer;
    min-height: 2.6rem;
    line-height: 1.15;
    padding: 0.2rem 0.3rem;
    font-size: 0.96rem;
  }
  strong {
    font-weight: 600;
  }
  span[data-grip] {
    cursor: grab;
    touch-action: none;
    color: var(--muted);
    padding: 0.6rem 0.4rem;
  }
`;

const rowHeight = 70;

interface PointProps extends Knot {
  title: string;
  place: number;
  isChosen: boolean;
  isOver: boolean;
  choose: (id: Id) => void;
  edit: (next: (draft: Draft) => Draft) => void;
  /** Taken by the grip, moved to a height on the screen, and let go there, or nowhere. */
  take: (id: Id) => void;
  drag: (y: number) => void;
  drop: (y: number | null) => void;
}

const Point = memo(function Point(props: PointProps) {
  const { id, kind, belief, title, place, isChosen, isOver, choose, edit, take, drag, drop } = props;
  const grip = {
    onPointerDown: (event: PointerEvent) => {
      take(id);
      event.currentTarget.setPointerCapture(event.pointerId);
    },
    onPointerMove: (event: PointerEvent) => drag(event.clientY),
    onPointerUp: (event: PointerEvent) => drop(event.clientY),
    onPointerCancel: () => drop(null),
  };
  return (
    <KnotRow data-chosen={isChosen || undefined} data-over={isOver || undefined}>
      <button
        type="button"
        aria-current={isChosen ? 'true' : undefined}
        title="Alt with the arrows moves it"
        onClick={() => choose(id)}
        onKeyDown={(event) => {
          const step = event.altKey && { ArrowUp: -1, ArrowDown: 1 }[event.key];
          if (!step) return;
          event.preventDefault();
          edit((now) => moveCheckpoint(now, id, placeOf(now, id) + step));
        }}
      >
        <strong>
          {place + 1} {title || <i>untitled</i>}
        </strong>{' '}
        <Quiet as="span" style={{ whiteSpace: 'nowrap' }}>
          {kind}, {Math.round(belief)} %
        </Quiet>
      </button>
      <span data-grip aria-hidden {...grip}>
        ⠿
      </span>
    </KnotRow>
  );
});

interface PointsProps {
  draft: Draft;
  chosen: Id | null;
  choose: (id: Id) => void;
  edit: (next: (draft: Draft) => Draft) => void;
}

/** The strand of a draft: choose by tap or key, move by the grip, or by Alt and the arrows. */
export const Points = memo(function Points({ draft, chosen, choose, edit }: PointsProps) {
  const list = useRef<HTMLDivElement>(null);
  const [over, setOver] = useState<number | null>(null);
  const dragged = useRef<Id | null>(null);
  const knots = useSame(draft.checkpoints.map(({ id, kind, belief }) => ({ id, kind, belief })));
  const titles = useSame(draft.checkpoints.map(({ title }) => title));
  const links = useSame(
    draft.checkpoints.flatMap(({ id, after }) => after.map((from) => ({ from, to: id }))),
  );
  const spans = useSame(
    draft.defences.map(({ id, opens, closes, title, underLoadOnly }) => ({
      id,
      from: opens,
      to: closes,
      label: title,
      loaded: underLoadOnly,
    })),
  );
  const count = knots.length;
  const placeUnder = useCallback(
    (y: number): number => {
      const top = list.current!.querySelector('ol')!.getBoundingClientRect().top;
      return Math.min(count - 1, Math.max(0, Math.floor((y - top) / rowHeight)));
    },
    [count],
  );
  const take = useCallback((id: Id) => void (dragged.current = id), []);
  const drag = useCallback((y: number) => dragged.current && setOver(placeUnder(y)), [placeUnder]);
  const drop = useCallback(
    (y: number | null) => {
      const moved = dragged.current;
      dragged.current = null;
      setOver(null);
      if (moved && y !== null) edit((now) => moveCheckpoint(now, moved, placeUnder(y)));
    },
    [edit, placeUnder],
  );
  const row = useCallback(
    (knot: Knot, place: number) => (
      <Point
        {...{ ...knot, place, choose, edit, take, drag, drop }}
        title={titles[place] ?? ''}
        isChosen={knot.id === chosen}
        isOver={over === place}
      />
    ),
    [titles, chosen, over, choose, edit, take, drag, drop],
  );
  return (
    <div ref={list}>
      <Strand
        label="Checkpoints"
        knots={knots}
        links={links}
        spans={spans}
        selected={chosen}
        rowHeight={rowHeight}
        width={104}
        row={row}
      />
    </div>
  );
});
