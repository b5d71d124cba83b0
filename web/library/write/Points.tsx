import { type Draft, type Id, moveCheckpoint, placeOf } from '@ulkret/core/breakdown';
import { memo, useCallback, useRef } from 'react';
import styled from 'styled-components';
import { useCarry, useReceive } from '../../ui/carry';
import { Quiet } from '../../ui/frame';
import { type Knot, Strand } from '../../strand/Strand';
import { useSame } from './stable';

const KnotRow = styled.div`
  /* Laid out and painted on its own: a new title moves nothing else. */
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
    color: var(--muted);
    padding: 0.6rem 0.4rem;
  }
`;

const rowHeight = 70;

interface PointProps extends Knot {
  title: string;
  place: number;
  isChosen: boolean;
  choose: (id: Id) => void;
  edit: (next: (draft: Draft) => Draft) => void;
}

const Point = memo(function Point(props: PointProps) {
  const { id, kind, belief, title, place, isChosen, choose, edit } = props;
  const row = useRef<HTMLDivElement>(null);
  const { dragProps } = useCarry({ kind: 'checkpoint', id });
  const { dropProps, isDropTarget } = useReceive(row, {
    kind: 'checkpoint',
    onDrop: (moved) => edit((now) => moveCheckpoint(now, moved, placeOf(now, id))),
  });
  return (
    <KnotRow
      ref={row}
      {...dropProps}
      data-chosen={isChosen || undefined}
      data-over={isDropTarget || undefined}
    >
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
      <span data-grip aria-hidden {...dragProps}>
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
  const row = useCallback(
    (knot: Knot, place: number) => (
      <Point
        {...{ ...knot, place, choose, edit }}
        title={titles[place] ?? ''}
        isChosen={knot.id === chosen}
      />
    ),
    [titles, chosen, choose, edit],
  );
  return (
    <div>
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
