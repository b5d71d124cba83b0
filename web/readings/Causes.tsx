import { type Breakdown, numberOf, readFor, type Side } from '@ulkret/core/breakdown';
import type { CheckpointReading } from '@ulkret/core/reading';
import styled from 'styled-components';
import { Quiet } from '../ui/frame';
import { percent } from '../ui/words';

export const Small = styled.table`
  margin-top: 0.6rem;
  td,
  th {
    padding: 0.2rem 1rem 0.2rem 0;
    text-align: left;
  }
  td:not(:first-child) {
    white-space: nowrap;
  }
  @media (max-width: 640px) {
    td:not(:first-child) {
      white-space: normal;
    }
    td,
    th {
      padding-right: 0.6rem;
    }
  }
  th {
    color: var(--muted);
    font-weight: 500;
  }
`;

/** What ended the reps at a checkpoint: tagged stops, each cause's share of all, and where it would have to be fixed. */
export function Causes({ at, breakdown, lead }: { at: CheckpointReading; breakdown: Breakdown; lead: Side }) {
  if (at.failed === 0) return null;
  const titleOf = (cause: string) =>
    readFor(
      [...breakdown.mistakes, ...breakdown.defences].find(({ id }) => id === cause)?.title ?? cause,
      lead,
    );
  return (
    <Small>
      <thead>
        <tr>
          <th>What ended them</th>
          <th>Tagged</th>
          <th>Share</th>
          <th>Starts at</th>
        </tr>
      </thead>
      <tbody>
        {[...at.causes]
          .filter(({ stops, share }) => stops > 0 || share > 0.05)
          .sort((a, b) => b.share - a.share)
          .map(({ cause, kind, stops, share, root }) => (
            <tr key={cause ?? 'unknown'}>
              <td>
                {cause === null ? 'untagged' : titleOf(cause)}{' '}
                {kind === 'defence' && <Quiet as="span">(defence)</Quiet>}
              </td>
              <td>{stops}</td>
              <td>{kind === 'unknown' && share === 0 ? 'shared out' : percent(share)}</td>
              <td>{root === at.checkpoint ? 'here' : `at ${numberOf(breakdown, root)}`}</td>
            </tr>
          ))}
      </tbody>
    </Small>
  );
}
