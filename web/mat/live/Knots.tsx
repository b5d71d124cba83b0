import type { Tapping } from '@ulkret/core/session';
import { type Breakdown, readFor, type Side, whenWords } from '@ulkret/core/breakdown';
import type { WayAt } from '@ulkret/core/variants';
import { memo, useCallback } from 'react';
import styled from 'styled-components';
import { type Knot, Strand } from '../../strand/Strand';
import { KnotButton } from './KnotButton';

const Columns = styled.div`
  display: grid;
  grid-auto-flow: column;
  grid-auto-columns: minmax(0, 1fr);
  gap: 0.4rem;
`;

const asks: Readonly<Record<Tapping, string>> = {
  stop: 'Stopped at',
  forced: 'Failed at',
  'not judged': 'Held up to',
};

interface KnotsProps {
  breakdown: Breakdown;
  label: string;
  side: Side;
  mode: Tapping;
  soft: ReadonlySet<string>;
  failed: ReadonlySet<string>;
  unseen: ReadonlySet<string>;
  /** The variants of this pair: each is shown at its checkpoint. */
  ways: readonly WayAt[];
  /** The place of the attacker's correction, or -1; and the state of its sign-off test. */
  workPlace: number;
  workWords: string;
  rowHeight: number;
  /** More than one where the stage is too low for all knots below each other. */
  columns: number;
  width: number;
  onStop: (place: number) => void;
  onSoft: (place: number) => void;
}

/** The ways of a checkpoint, as they are called; empty where it is done as it is written. */
const wayWords = (ways: readonly WayAt[], checkpoint: string, side: Side): string =>
  ways
    .filter((one) => one.checkpoint === checkpoint)
    .map(({ variant }) => readFor(variant.name || whenWords(variant.when), side))
    .join(', ');

/** The open pair's strand with its tall knots, each of them one tap. */
export const Knots = memo(function Knots({
  breakdown,
  label,
  side,
  mode,
  soft,
  failed,
  ways,
  unseen,
  workPlace,
  workWords,
  rowHeight,
  columns,
  width,
  onStop,
  onSoft,
}: KnotsProps) {
  const row = useCallback(
    ({ id }: Knot, place: number) => (
      <KnotButton
        place={place}
        title={readFor(breakdown.checkpoints[place]!.title, side)}
        soft={soft.has(id)}
        failed={failed.has(id)}
        way={wayWords(ways, id, side)}
        worksOn={place === workPlace ? workWords : null}
        asks={asks[mode]}
        disabled={unseen.has(id)}
        indent={width}
        onStop={onStop}
        onSoft={onSoft}
      />
    ),
    [breakdown, side, soft, failed, ways, workPlace, workWords, mode, unseen, width, onStop, onSoft],
  );
  const { checkpoints } = breakdown;
  const perColumn = Math.ceil(checkpoints.length / columns);
  return (
    <Columns data-columns={columns}>
      {Array.from({ length: columns }, (_, i) => {
        const first = i * perColumn;
        const knots = checkpoints.slice(first, first + perColumn);
        return (
          <Strand
            key={first}
            label={columns === 1 ? label : `${label}, from ${first + 1} on`}
            knots={knots}
            first={first}
            soft={soft}
            unseen={unseen}
            selected={checkpoints[workPlace]?.id ?? null}
            rowHeight={rowHeight}
            width={width}
            row={row}
          />
        );
      })}
    </Columns>
  );
});
