import { type Endpoint, type OutputOf, Refusal, type SentTo, serverTime } from '@ulkret/contract';
import { clock } from '../offline/clock';

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

export type Asked<E> = { [K in keyof SentTo<E>]?: SentTo<E>[K] };

/** Address of an endpoint with its parameters and query filled in. */
export function addressOf<E extends Endpoint>(endpoint: E, input: Asked<E> = {}): string {
  const params = (input.params ?? {}) as Record<string, string>;
  const path = endpoint.path.replace(/:(\w+)/g, (_, name: string) => encodeURIComponent(params[name] ?? ''));
  const query = new URLSearchParams();
  for (const [name, value] of Object.entries((input.query ?? {}) as Record<string, unknown>))
    if (value !== undefined && value !== null && value !== '') query.set(name, String(value));
  return query.size > 0 ? `${path}?${query}` : path;
}

/** Asks an endpoint of the contract. Throws `ApiRefusal`. */
export async function ask<E extends Endpoint>(endpoint: E, input: Asked<E> = {}): Promise<OutputOf<E>> {
  const type = endpoint.bodyType ?? 'application/json';
  const body =
    input.body === undefined
      ? undefined
      : endpoint.bodyType
        ? String(input.body)
        : JSON.stringify(input.body);
  let response: Response;
  const askedAt = Date.now();
  try {
    response = await fetch(addressOf(endpoint, input), {
      method: endpoint.method.toUpperCase(),
      ...(body !== undefined && { body, headers: { 'content-type': type } }),
    });
  } catch {
    throw new ApiRefusal(
      0,
      'The server cannot be reached.',
      'What you entered is kept on this device. Check the Wi-Fi.',
    );
  }
  clock.hear(Number(response.headers.get(serverTime) ?? NaN), askedAt, Date.now());
  if (!response.ok) {
    const refusal = Refusal.safeParse(await response.json().catch(() => null));
    throw new ApiRefusal(
      response.status,
      refusal.data?.error ?? `The server answered with ${response.status}.`,
      refusal.data?.todo ?? 'Try again in a moment.',
    );
  }
  const output: unknown = endpoint.outputType ? await response.text() : await response.json();
  return endpoint.output.parse(output) as OutputOf<E>;
}
