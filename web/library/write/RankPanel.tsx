import { type Draft, type Id, readFor, shareByRank, weightsByRank } from '@ulkret/core/breakdown';
import { useState } from 'react';
import styled from 'styled-components';
import { Button } from '../../ui/button';
import { Sheet, SheetActions } from '../../ui/dialog';
import { Quiet } from '../../ui/frame';
import { percent } from '../../ui/words';

const List = styled.ol`
  display: grid;
  gap: 0.3rem;
  li {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 3.4rem auto;
    align-items: center;
    gap: 0.7rem;
    padding: 0.2rem 0;
    border-bottom: 1px solid var(--line);
  }
  div {
    display: flex;
    gap: 0.3rem;
  }
  button {
    min-width: 2.6rem;
  }
  output {
    text-align: right;
    font-variant-numeric: tabular-nums;
  }
`;

/** Coaches rank, they do not give percentages: worths by the order of importance, with ties. */
export function RankPanel({
  draft,
  edit,
  close,
}: {
  draft: Draft;
  edit: (next: (draft: Draft) => Draft) => void;
  close: () => void;
}) {
  const { checkpoints } = draft;
  // As they are worth now: the same worth is the same rank.
  const [ranks, setRanks] = useState<ReadonlyMap<Id, number>>(() => {
    const worths = [...new Set(checkpoints.map(({ belief }) => belief))].sort((a, b) => b - a);
    return new Map(checkpoints.map(({ id, belief }) => [id, worths.indexOf(belief) + 1]));
  });
  const rankOf = (id: Id) => ranks.get(id) ?? checkpoints.length;
  const weights = weightsByRank(checkpoints.map(({ id }) => rankOf(id)));
  const step = (id: Id, by: number) =>
    setRanks(new Map(ranks).set(id, Math.min(checkpoints.length, Math.max(1, rankOf(id) + by))));
  return (
    <Sheet label="Rank by importance" written close={close}>
      <h2>Which matters most?</h2>
      <Quiet>Equal numbers tie. Weights follow the ranking; you can adjust them.</Quiet>
      <List>
        {checkpoints.map(({ id, title }, i) => (
          <li key={id}>
            <span>
              {i + 1} {readFor(title, 'right') || <i>untitled</i>}
            </span>
            <output aria-label={`Weight of ${i + 1}`}>{percent(weights[i]!)}</output>
            <div role="group" aria-label={`Rank of ${i + 1}`}>
              <Button $quiet aria-label={`${i + 1} matters more`} onPress={() => step(id, -1)}>
                ↑
              </Button>
              <strong style={{ minWidth: '1.6rem', alignSelf: 'center', textAlign: 'center' }}>
                {rankOf(id)}
              </strong>
              <Button $quiet aria-label={`${i + 1} matters less`} onPress={() => step(id, 1)}>
                ↓
              </Button>
            </div>
          </li>
        ))}
      </List>
      <SheetActions
        label="Use these weights"
        onPress={() => {
          edit((now) => shareByRank(now, (id) => ranks.get(id)));
          close();
        }}
        close={close}
      >
        <Button $quiet onPress={() => setRanks(new Map(checkpoints.map(({ id }) => [id, 1])))}>
          All equal
        </Button>
      </SheetActions>
    </Sheet>
  );
}
