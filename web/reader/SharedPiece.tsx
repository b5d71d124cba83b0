import { endpoints } from '@ulkret/contract';
import type { Checkpoint } from '@ulkret/core/breakdown';
import { Fragment } from 'react';
import { Link } from 'react-router';
import { useApi } from '../api/use-api';
import { Quiet } from '../ui/frame';

/** Says of a checkpoint that is a shared piece where else it occurs: in the full reading, reps there tell of it here. */
export function SharedPiece({ of: { piece: id }, technique }: { of: Checkpoint; technique: string }) {
  const { data } = useApi(endpoints.pieces, id === undefined ? null : {});
  const library = useApi(endpoints.techniques, id === undefined ? null : {});
  const piece = data?.pieces.find((one) => one.id === id);
  if (!piece) return null;
  const others = [...new Set(piece.occurs.map((one) => one.technique))].filter((one) => one !== technique);
  const nameOf = (one: string) =>
    library.data?.techniques.find((row) => row.technique.id === one)?.technique.name ?? one;
  return (
    <Quiet data-testid="shared-piece">
      The shared piece “{piece.title}”
      {others.length === 0
        ? ', in no other technique yet.'
        : others.map((one, i) => (
            <Fragment key={one}>
              {i === 0 ? ', also in ' : i === others.length - 1 ? ' and ' : ', '}
              <Link to={`/library/${one}`}>{nameOf(one)}</Link>
            </Fragment>
          ))}
      {others.length > 0 && ': the full reading takes what is seen there along.'}
    </Quiet>
  );
}
