import type { Endpoint, OutputOf } from '@ulkret/contract';
import useSWR, { type SWRConfiguration } from 'swr';
import { addressOf, type ApiRefusal, ask, type Asked } from './ask';

/** Asks with SWR; the address is the key. A null input asks nothing. */
export function useApi<E extends Endpoint>(
  endpoint: E,
  input: Asked<E> | null = {},
  options?: SWRConfiguration,
) {
  return useSWR<OutputOf<E>, ApiRefusal>(
    input && addressOf(endpoint, input),
    () => ask(endpoint, input ?? {}),
    {
      keepPreviousData: true,
      ...options,
    },
  );
}
