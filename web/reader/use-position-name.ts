import { endpoints } from '@ulkret/contract';
import { positionOf, shippedPositions } from '@ulkret/core/breakdown';
import { useCallback } from 'react';
import { useApi } from '../api/use-api';

/** The first name of the position that a text names by its id or any of its names, as within a sentence; a text that names none stays. */
export function usePositionName(): (text: string) => string {
  const own = useApi(endpoints.positions).data?.positions;
  return useCallback(
    (text) => {
      const name = positionOf(text, own ?? shippedPositions)?.name;
      return name === undefined ? text : name.charAt(0).toLowerCase() + name.slice(1);
    },
    [own],
  );
}
