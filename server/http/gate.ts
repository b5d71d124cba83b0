import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { type Endpoint, type InputOf, mayAsk, type OutputOf } from '@ulkret/contract';
import type { Request, Response, Router } from 'express';
import { z } from 'zod';
import type { Id } from '@ulkret/core/breakdown';
import { writeDown } from '../trail/accesses';
import { coachOf } from '../access/sign-in';
import type { SignedInCoach } from '../access/coaches';
import { partsOf } from './file-parts';
import { nobodyHere, ProveAgain, Refused } from '../refused';
import type { Db } from '../db/connect';
import { within } from '../db/within';

/** A route's arguments besides its input. */
export interface Context<Who> {
  db: Db;
  coach: Who;
  request: Request;
  response: Response;
}

/** Everybody but a stranger is somebody. */
type CallerOf<E> = E extends { who: 'anyone' } ? null : SignedInCoach;

/** Requests that only look, and are answered at once: no file, no stream. */
export const onlyLooks = ({ method, outputType, who }: Endpoint): boolean =>
  method === 'get' && !outputType && who !== 'anyone' && who !== 'operator';

/** The one gate: who asks, where they may ask this; null where anyone may. Throws a refusal. */
export async function admitted<E extends Endpoint>(
  db: Db,
  endpoint: E,
  request: Request,
): Promise<CallerOf<E>> {
  if (endpoint.who === 'anyone') return null as CallerOf<E>;
  const coach = await coachOf(db, request);
  if (!coach) throw nobodyHere();
  if (!mayAsk(coach.role, endpoint.who))
    throw new Refused(
      403,
      `${endpoint.who === 'head' ? 'Head coach' : endpoint.who === 'coach' ? 'Coaches' : 'Assistants and coaches'} only.`,
      'Ask your head coach; nothing was changed.',
    );
  if (endpoint.again && !coach.proved) throw new ProveAgain();
  return coach as CallerOf<E>;
}

/** Answers an endpoint of the contract: who asks, then what is asked, both checked, before the route is entered. */
export function answer<E extends Endpoint>(
  router: Router,
  db: Db,
  endpoint: E,
  route: (
    input: InputOf<E>,
    context: Context<CallerOf<E>>,
  ) => Promise<OutputOf<E>> | AsyncIterable<string | Uint8Array>,
): void {
  const answered = async (request: Request, response: Response): Promise<void> => {
    const coach = await admitted(db, endpoint, request);
    await (coach
      ? within(coach.academyId, () => answeredTo(coach, request, response))
      : answeredTo(coach, request, response));
  };
  const answeredTo = async (coach: CallerOf<E>, request: Request, response: Response): Promise<void> => {
    const given = (value: unknown) => value !== '';
    const query = Object.fromEntries(Object.entries(request.query).filter(([, value]) => given(value)));
    const input = {
      params: namedBy(endpoint, request.params),
      query: check(endpoint.query, query, 'query'),
      body: endpoint.bodyType
        ? partsOf(request, endpoint.bodyType)
        : check(endpoint.body, endpoint.body instanceof z.ZodUndefined ? undefined : request.body, 'body'),
    } as InputOf<E>;
    const told = route(input, { db, coach, request, response });
    const wrote = async () => {
      const { watched } = endpoint;
      if (!coach || !watched) return;
      const named = watched.about && { ...(input.params as object), ...(input.query as object) };
      const about = watched.about && (named as Partial<Record<string, Id>>)[watched.about];
      await writeDown(db, coach, watched.as, about ?? null);
    };
    if (endpoint.outputType) response.type(endpoint.outputType);
    if (Symbol.asyncIterator in told) {
      const parts = told[Symbol.asyncIterator]();
      // Nothing can be refused once the first part is sent.
      const first = await parts.next();
      await wrote();
      await pipeline(Readable.from(from(first, parts)), response);
      return;
    }
    const said = await told;
    await wrote();
    if (endpoint.outputType) response.send(said);
    else response.json(said);
  };
  router[endpoint.method](endpoint.path, answered);
}

/** The first of many, and the rest of them. */
async function* from<T>(first: IteratorResult<T>, rest: AsyncIterator<T>): AsyncGenerator<T> {
  try {
    for (let one = first; !one.done; one = await rest.next()) yield one.value;
  } finally {
    await rest.return?.();
  }
}

/** What an address names. What is only looked at is simply not there by an address that cannot be one: a link was cut off. */
function namedBy({ method, params }: Endpoint, given: unknown): unknown {
  if (method === 'get' && !params.safeParse(given).success)
    throw new Refused(
      404,
      'There is nothing at this address.',
      'The link may be cut off: open it from its list instead.',
    );
  return check(params, given, 'address');
}

/** What a schema reads in a value; refused with every fault and its path where it is not as it should be. */
export function check<S extends z.ZodType>(schema: S, value: unknown, place: string): z.infer<S> {
  const read = schema.safeParse(value);
  if (read.success) return read.data;
  const faults = read.error.issues.map(({ path, message }) =>
    path.length > 0 ? `${path.join('.')}: ${message}` : message,
  );
  throw new Refused(
    400,
    `Invalid ${place}: ${faults.join('; ')}.`,
    'Fix it and send it again; nothing was changed.',
  );
}
