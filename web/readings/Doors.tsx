import type { TechniqueRow } from '@ulkret/contract';
import { type Id, checkpointWords } from '@ulkret/core/breakdown';
import type { Rates } from '@ulkret/core/reading';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import styled from 'styled-components';
import { RopeThumb } from '../strand/RopeThumb';
import { Quiet } from '../ui/frame';
import { many, percent, range } from '../ui/words';

const List = styled.ul`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(100%, 30rem), 1fr));
  gap: 1.1rem;
`;

const Door = styled(Link)`
  display: grid;
  gap: 0.4rem;
  height: 100%;
  align-content: start;
  padding: 1rem 1.2rem;
  border-radius: 8px;
  background: var(--surface);
  color: var(--ink);
  text-decoration: none;
  &:hover {
    background: var(--wash);
  }
  > span:first-child {
    display: flex;
    flex-wrap: wrap;
    justify-content: space-between;
    gap: 0 1rem;
    font-size: 1.1rem;
  }
`;

export interface TechniqueRates {
  row: TechniqueRow;
  rates: Rates;
}

/** Techniques as their frayed strands, all of one scale, of which most is lost first: each leads to its reading. */
export const Doors = ({
  behind,
  to,
  marked = widest,
  says,
}: {
  behind: readonly TechniqueRates[];
  to: (technique: Id) => string;
  /** The marked knot; without a given one, the knot with the widest loss. */
  marked?: (behind: TechniqueRates) => Id | undefined;
  /** The line below the strand. */
  says?: (behind: TechniqueRates) => ReactNode;
}) => (
  <List>
    {[...behind]
      // By what was counted, so that nothing moves when it is refined.
      .sort((a, b) => a.rates.finished / (a.rates.reps || 1) - b.rates.finished / (b.rates.reps || 1))
      .map((one) => (
        <li key={one.row.technique.id}>
          <Door to={to(one.row.technique.id)}>
            <Told {...one} marked={marked(one)} says={says?.(one) ?? <WidestLoss {...one} />} />
          </Door>
        </li>
      ))}
  </List>
);

const worstOf = ({ checkpoints }: Rates) =>
  checkpoints.reduce((a, b) => (b.leak.value > a.leak.value ? b : a));
const widest = ({ rates }: TechniqueRates): Id => worstOf(rates).checkpoint;

/** A checkpoint named next to a strand: "at 4 “Arm deep”". */
export function atKnot(knots: readonly { id: Id; title: string }[], id: Id): string {
  return knots.some((knot) => knot.id === id)
    ? `at ${checkpointWords({ checkpoints: knots }, id, 'right')}`
    : 'at an archived checkpoint';
}

const WidestLoss = ({ row, rates }: TechniqueRates) => {
  const worst = worstOf(rates);
  return (
    <>
      {percent(worst.leak.value)} lost {atKnot(row.strand, worst.checkpoint)}, the widest loss
    </>
  );
};

const Told = ({ row, rates, marked, says }: TechniqueRates & { marked: Id | undefined; says: ReactNode }) => (
  <>
    <span>
      <strong>{row.technique.name}</strong>
      {rates.reps === 0 ? (
        <Quiet as="span">no rep fits</Quiet>
      ) : (
        <span>
          <strong>{percent(rates.finishRate.value)}</strong> finish{' '}
          <Quiet as="span">
            ({range(rates.finishRate)}, {many(rates.reps, 'rep')})
          </Quiet>
        </span>
      )}
    </span>
    {rates.reps > 0 && (
      <>
        <RopeThumb knots={row.strand} checkpoints={rates.checkpoints} marked={marked} gap={58} full={40} />
        <Quiet as="span">{says}</Quiet>
      </>
    )}
  </>
);
