import { endpoints } from '@ulkret/contract';
import { useApi } from '../../api/use-api';

/** The id of the list of positions that fields suggest. */
export const positionList = 'positions';

/** What the academy calls its positions, as suggestions; other words can be written all the same. */
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
