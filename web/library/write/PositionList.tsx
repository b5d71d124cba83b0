import { endpoints } from '@ulkret/contract';
import { useApi } from '../../api/use-api';

/** The id of the list of positions that fields suggest. */
export const positionList = 'positions';

/** The academy's names of positions, as suggestions; other words are allowed. */
export function PositionList() {
  const { data } = useApi(endpoints.positions);
  return (
    <datalist id={positionList}>
      {data?.positions
        .filter(({ mergedInto }) => mergedInto === null)
        .map(({ id, name }) => (
          <option key={id} value={name} />
        ))}
    </datalist>
  );
}
