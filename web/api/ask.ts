import { type Endpoint, type OutputOf, Refusal, type SentTo, serverTime } from '@ulkret/contract';
import { clock } from './clock';

/** Why something could not be asked, in the server's words, or in ours where there is no network. `status` 0 is no network. */
export class ApiRefusal extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly todo: string,
  ) {
    super(message);
  }
}

export type Input<E> = { [K in keyof SentTo<E>]?: SentTo<E>[K] };

/** Address of an endpoint with its parameters and query filled in. */
export function addressOf<E extends Endpoint>(endpoint: E, input: Input<E> = {}): string {
  const params = (input.params ?? {}) as Record<string, string>;
  const path = endpoint.path.replace(/:(\w+)/g, (_, name: string) => encodeURIComponent(params[name] ?? ''));
  const query = new URLSearchParams();
  for (const [name, value] of Object.entries((input.query ?? {}) as Record<string, unknown>))
    if (value !== undefined && value !== null && value !== '') query.set(name, String(value));
  return query.size > 0 ? `${path}?${query}` : path;
}

/** After that a request is given up: Wi-Fi that hangs is no network. Files, which are texts, may take their time. */
const patienceMs = 60_000;
const patienceForFilesMs = 900_000;

/** Asks an endpoint of the contract. Throws `ApiRefusal`. */
export async function ask<E extends Endpoint>(
  endpoint: E,
  input: Input<E> = {},
  patience = endpoint.bodyType || endpoint.outputType ? patienceForFilesMs : patienceMs,
): Promise<OutputOf<E>> {
  const type = endpoint.bodyType ?? 'application/json';
  const body =
    input.body === undefined
      ? undefined
      : endpoint.bodyType
        ? String(input.body)
        : JSON.stringify(input.body);
  let response: Response;
  let said: string;
  const askedAt = Date.now();
  try {
    response = await fetch(addressOf(endpoint, input), {
      method: endpoint.method.toUpperCase(),
      signal: AbortSignal.timeout(patience),
      ...(body !== undefined && { body, headers: { 'content-type': type } }),
    });
    said = await response.text();
  } catch {
    throw new ApiRefusal(
      0,
      'The server cannot be reached.',
      'What you entered is kept on this device. Check the Wi-Fi.',
    );
  }
  clock.hear(Number(response.headers.get(serverTime) ?? NaN), askedAt, Date.now());
  if (!response.ok) {
    const refusal = Refusal.safeParse(parsed(said));
    throw new ApiRefusal(
      response.status,
      refusal.data?.error ?? `The server answered with ${response.status}.`,
      refusal.data?.todo ?? 'Try again in a moment.',
    );
  }
  return endpoint.output.parse(endpoint.outputType ? said : parsed(said)) as OutputOf<E>;
}

/** What a text says as JSON; null where it is none, as where something between us and the server answered in its stead. */
function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
