import { type Endpoint, endpoints, type OutputOf } from '@ulkret/contract';
import { useContext } from 'react';
import useSWR, { type SWRConfiguration } from 'swr';
import { keepAnswer, keptAnswer } from '../offline/device';
import { addressOf, ApiRefusal, ask, type Asked } from './ask';
import { HereContext } from './here';

/** What the Mat cannot do without: its answers are kept on the device for when there is no network. */
const kept: ReadonlySet<Endpoint> = new Set<Endpoint>([
  endpoints.session,
  endpoints.kit,
  endpoints.technique,
  endpoints.techniques,
  endpoints.students,
  endpoints.sessions,
  endpoints.drillingSession,
]);

/** Asks, and where the server cannot be reached answers with what it last said, if that is kept. */
async function askOrRecall<E extends Endpoint>(
  academy: string,
  endpoint: E,
  input: Asked<E>,
): Promise<OutputOf<E>> {
  const address = addressOf(endpoint, input);
  try {
    const output = await ask(endpoint, input);
    // A device that is full goes without.
    void keepAnswer(academy, address, output).catch(() => undefined);
    return output;
  } catch (error) {
    if (!(error instanceof ApiRefusal) || (error.status !== 0 && error.status < 500)) throw error;
    const before = await keptAnswer(academy, address).catch(() => null);
    if (!before) throw error;
    return before.body as OutputOf<E>;
  }
}

/** Asks with SWR; the address is the key. A null input asks nothing. */
export function useApi<E extends Endpoint>(
  endpoint: E,
  input: Asked<E> | null = {},
  options?: SWRConfiguration,
) {
  const academy = useContext(HereContext)?.academy.id ?? '';
  return useSWR<OutputOf<E>, ApiRefusal>(
    input && addressOf(endpoint, input),
    () =>
      kept.has(endpoint)
        ? askOrRecall(academy, endpoint, input ?? {})
        : (ask(endpoint, input ?? {}) as Promise<OutputOf<E>>),
    {
      keepPreviousData: true,
      ...options,
    },
  );
}
