import { endpoints } from '@ulkret/contract';
import { positionOf, shippedPositions } from '@ulkret/core/breakdown';
import { useCallback } from 'react';
import { useApi } from '../api/use-api';

/** The first name of the position that a text names by its id or any of its names; a text that names none stays as it is. */
export function usePositionName(): (text: string) => string {
  const own = useApi(endpoints.positions).data?.positions;
  return useCallback((text) => positionOf(text, own ?? shippedPositions)?.name ?? text, [own]);
}
