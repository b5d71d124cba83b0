import {
  accessEndpoints,
  type Endpoint,
  type Endpoints,
  type OutputOf,
  type SignedIn,
} from '@ulkret/contract';
import { useContext } from 'react';
import useSWR, { type SWRConfiguration } from 'swr';
import { askOrRecall } from './recall';
import { keepAnswer, keptAnswer } from './store';
import { addressOf, type ApiRefusal, ask, type Input } from './ask';
import { HereContext } from './here';

type Path = Endpoints[keyof Endpoints]['path'];

/** Requests that the Mat depends on: their answers are stored on the device for use without a network. */
const kept: ReadonlySet<string> = new Set<Path>([
  '/api/session',
  '/api/kit',
  '/api/techniques/:id',
  '/api/techniques',
  '/api/students',
  '/api/sessions',
  '/api/sessions/:id',
  '/api/decisions',
  '/api/prescriptions',
  '/api/drills',
  '/api/rates',
  '/api/day',
]);

/** Of these, the stored answer is shown during the request: on bad Wi-Fi that can take long. */
const shownEarly: ReadonlySet<string> = new Set<Path>([
  '/api/session',
  '/api/kit',
  '/api/sessions/:id',
  '/api/decisions',
  '/api/prescriptions',
  '/api/drills',
]);

/** Who is signed in is not of an academy, but of the device. */
const ofDevice = '';

/** Keeps who has just signed in, as if the server had been asked. */
export const keepSignedIn = (signedIn: SignedIn): Promise<void> =>
  keepAnswer(ofDevice, addressOf(accessEndpoints.session), signedIn).catch(() => undefined);

/**
 * Asks with SWR; the address is the key. A null input asks nothing. `early` says that the data is what this device has kept,
 * and that the server has not answered yet.
 */
export function useApi<E extends Endpoint>(
  endpoint: E,
  input: Input<E> | null = {},
  options?: SWRConfiguration,
) {
  const here = useContext(HereContext);
  const academy = endpoint.path === accessEndpoints.session.path || !here ? ofDevice : here.academy.id;
  const address = input && addressOf(endpoint, input);
  const answer = useSWR<OutputOf<E>, ApiRefusal>(
    address,
    () =>
      kept.has(endpoint.path)
        ? askOrRecall(academy, endpoint, input ?? {})
        : (ask(endpoint, input ?? {}) as Promise<OutputOf<E>>),
    {
      keepPreviousData: true,
      ...options,
    },
  );
  const { data: before } = useSWR<OutputOf<E> | null>(
    address && shownEarly.has(endpoint.path) && answer.data === undefined ? [academy, address] : null,
    async () => ((await keptAnswer(academy, address!).catch(() => null))?.body as OutputOf<E>) ?? null,
    { revalidateOnFocus: false, revalidateOnReconnect: false },
  );
  const early = answer.data === undefined && before != null;
  return early ? { ...answer, data: before, early } : Object.assign(answer, { early });
}
