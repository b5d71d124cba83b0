import { isDrilled, nothingBegun, workShort } from '@ulkret/core/session';
import { useCallback, useMemo, useRef } from 'react';
import styled from 'styled-components';
import { Causes, causesHeight } from './Causes';
import { sideways, upright } from './held';
import { Knots } from './Knots';
import { NextRep } from './NextRep';
import { useDoingHere } from './use-doing';
import { useAct, useMat, useMatLate, useMatStore } from './use-mat';
import { useRowHeight } from './use-row-height';

const Face = styled.section`
  contain: style;
  grid-area: stage;
  position: relative;
  overflow-y: auto;
  padding: 3px;
  /* The right-hand lane belongs to the causes, so that they never come up under a finger that means a knot; on an upright device the space below the knots does. */
  > div:first-child {
    padding-right: var(--lane);
  }
  ol > svg {
    z-index: 1;
  }
  --lane: min(21rem, 40%);
  ${upright} {
    --lane: 0px;
    padding-bottom: ${causesHeight}px;
  }
  ${sideways} {
    --lane: 0px;
    padding-bottom: ${causesHeight}px;
  }
`;

/** The open pair's strand, with what can be said of its next rep. */
export function Stage() {
  const store = useMatStore();
  const act = useAct();
  const { asker } = useDoingHere();
  const stage = useRef<HTMLDivElement>(null);
  // What a tap changes at once is what is begun; what the next rep is about follows the mark of this one.
  const breakdown = useMat(({ open }) => open?.breakdown ?? null);
  const begun = useMat(({ open, state }) => (open && state.begun.get(open.view.key)) ?? nothingBegun);
  const span = useMat(({ open }) => open?.view.span ?? null);
  const view = useMatLate(({ open }) => open?.view ?? null);
  const { rowHeight, columns, width } = useRowHeight(stage, breakdown?.checkpoints.length ?? 0);
  const unseen = useMemo(
    () =>
      new Set(
        breakdown && span
          ? breakdown.checkpoints.flatMap(({ id }) => (isDrilled({ breakdown, span }, id) ? [] : [id]))
          : [],
      ),
    [breakdown, span],
  );
  const tap = useCallback(
    (place: number, does: 'knot' | 'soften') => {
      const checkpoint = store.now().open?.breakdown.checkpoints[place]?.id;
      if (checkpoint !== undefined) act({ do: 'tap', tap: { do: does, checkpoint }, finger: true });
    },
    [store, act],
  );
  const stop = useCallback((place: number) => tap(place, 'knot'), [tap]);
  const soften = useCallback((place: number) => tap(place, 'soften'), [tap]);
  const tag = useCallback(
    (rep: string, cause: string) => {
      const { session: _, ...made } = store.made();
      store.work.add({ is: 'tags', fact: { ...made, rep, cause, words: null } });
    },
    [store],
  );
  const { nameOf } = store.knows();
  return (
    <Face ref={stage} aria-label="The rep">
      {breakdown && view && (
        <Knots
          breakdown={breakdown}
          label={`${nameOf(view.turn.student)} attacks on the ${view.turn.side}: tap where the rep stopped`}
          side={view.turn.side}
          mode={begun.tapping}
          soft={begun.soft}
          failed={begun.failed}
          ways={view.ways}
          unseen={unseen}
          workPlace={view.work?.place ?? -1}
          workWords={view.work ? workShort(view.work) : ''}
          rowHeight={rowHeight}
          columns={columns}
          width={width}
          onStop={stop}
          onSoft={soften}
        />
      )}
      <Causes ref={asker} rowHeight={rowHeight} onTag={tag}>
        <NextRep />
      </Causes>
    </Face>
  );
}
