import {
  type Endpoint,
  type FileType,
  type OutputOf,
  Refusal,
  type SentTo,
  serverTime,
  interimStatus,
} from '@ulkret/contract';
import { clock } from './clock';
import { proveAgain } from './proof';

/** Why something could not be asked, in the server's words, or in ours where there is no network. `status` 0 is no network. */
export class ApiRefusal extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly todo: string,
    /** The server asks again who is there. */
    readonly again = false,
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

/** Asks an endpoint of the contract, and again where the user has proved in between who they are. Throws `ApiRefusal`. */
export async function ask<E extends Endpoint>(
  endpoint: E,
  input: Input<E> = {},
  patience?: number,
): Promise<OutputOf<E>> {
  try {
    return await askOnce(endpoint, input, patience);
  } catch (error) {
    if (!(error instanceof ApiRefusal && error.again && (await proveAgain()))) throw error;
    return askOnce(endpoint, input, patience);
  }
}

async function askOnce<E extends Endpoint>(
  endpoint: E,
  input: Input<E>,
  patience = endpoint.outputType ? patienceForFilesMs : patienceMs,
): Promise<OutputOf<E>> {
  const body = input.body === undefined ? undefined : JSON.stringify(input.body);
  let response: Response;
  let said: string;
  const askedAt = Date.now();
  try {
    response = await fetch(addressOf(endpoint, input), {
      method: endpoint.method.toUpperCase(),
      signal: AbortSignal.timeout(patience),
      ...(body !== undefined && { body, headers: { 'content-type': 'application/json' } }),
    });
    said = await response.text();
  } catch {
    throw unreached();
  }
  clock.hear(Number(response.headers.get(serverTime) ?? NaN), askedAt, Date.now());
  return answerOf(endpoint, response.status, said);
}

const unreached = () =>
  new ApiRefusal(
    0,
    'The server cannot be reached.',
    'Your entries are safe on this device. Check the Wi-Fi.',
  );

/** What an endpoint has answered. Throws `ApiRefusal`. */
function answerOf<E extends Endpoint>(endpoint: E, status: number, said: string): OutputOf<E> {
  if (status < 200 || status > 299) {
    const refusal = Refusal.safeParse(parsed(said));
    throw new ApiRefusal(
      status,
      refusal.data?.error ?? `The server answered with ${status}.`,
      refusal.data?.todo ?? 'Try again in a moment.',
      refusal.data?.again ?? false,
    );
  }
  return endpoint.output.parse(endpoint.outputType ? said : parsed(said)) as OutputOf<E>;
}

/**
 * Sends a file to an endpoint that reads one, and tells how far it has come: the server takes no more of it than it has read.
 * The signal stops it. Throws `ApiRefusal`; of one that was stopped, with status 0.
 */
export function sendFile<E extends Endpoint & { bodyType: FileType }>(
  endpoint: E,
  input: Input<E>,
  { onProgress, signal }: { onProgress(share: number): void; signal: AbortSignal },
): Promise<OutputOf<E>> {
  return new Promise((resolve, reject) => {
    // Fetch does not say how much has gone.
    const request = new XMLHttpRequest();
    request.open(endpoint.method, addressOf(endpoint, input));
    request.setRequestHeader('content-type', endpoint.bodyType);
    request.setRequestHeader('prefer', interimStatus);
    request.upload.onprogress = ({ loaded, total }) => onProgress(total > 0 ? loaded / total : 1);
    request.onload = () => {
      try {
        resolve(answerOf(endpoint, request.status, request.responseText));
      } catch (error) {
        reject(error as Error);
      }
    };
    request.onerror = () => reject(unreached());
    request.onabort = () => reject(new ApiRefusal(0, 'Stopped.', 'Choose the file again to continue.'));
    signal.addEventListener('abort', () => request.abort());
    request.send(input.body as Blob);
  });
}

/** What a text says as JSON; null where it is none, as where something between us and the server answered in its stead. */
function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
