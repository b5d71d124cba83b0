import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { setTimeout as rest } from 'node:timers/promises';
import { type Endpoint, type InputOf, mayAsk, type OutputOf } from '@ulkret/contract';
import type { Request, Response, Router } from 'express';
import pLimit from 'p-limit';
import { z } from 'zod';
import type { Id } from '@ulkret/core/breakdown';
import { writeDown } from '../trail/accesses';
import { coachOf } from '../access/sign-in';
import type { SignedInCoach } from '../access/coaches';
import { partsOf } from './file-parts';
import { Busy, nobodyHere, ProveAgain, Refused } from '../refused';
import type { Db } from '../db/connect';

/** A route's arguments besides its input. */
export interface Context<Who> {
  db: Db;
  coach: Who;
  request: Request;
  response: Response;
}

/** Everybody but a stranger is somebody. */
type CallerOf<E> = E extends { who: 'anyone' } ? null : SignedInCoach;

/** Requests that only look take turns, a few at once, and begin where no tap is being taken; at most this many wait. */
const [lookingAtOnce, mostLooking] = [2, 300];
/** A look waits this long for a gap between taps, and in all for its turn (milliseconds). */
const [gapMs, turnMs] = [250, 20_000];

/** What is going on in one server. */
class Turns {
  private readonly limit = pLimit(lookingAtOnce);
  private taps = 0;
  private gaps: (() => void)[] = [];

  /** Takes something in; what looks waits for the end of it. */
  async take<T>(work: () => Promise<T>): Promise<T> {
    this.taps++;
    try {
      return await work();
    } finally {
      if (--this.taps === 0) for (const begin of this.gaps.splice(0)) begin();
    }
  }

  /** Looks when it is its turn. Throws `Busy` where too many wait, or where its turn comes too late. */
  look(work: () => Promise<void>): Promise<void> {
    const busy = () => new Busy('Too many people look at once.');
    if (this.limit.pendingCount >= mostLooking) throw busy();
    const since = performance.now();
    return this.limit(async () => {
      if (performance.now() - since > turnMs) throw busy();
      if (this.taps > 0)
        await Promise.race([
          new Promise<void>((begin) => this.gaps.push(begin)),
          rest(gapMs, undefined, { ref: false }),
        ]);
      await work();
    });
  }
}

const turnsOf = new WeakMap<Db, Turns>();
function turns(db: Db): Turns {
  const known = turnsOf.get(db) ?? new Turns();
  turnsOf.set(db, known);
  return known;
}

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

/** Answers an endpoint of the contract: who asks, then what is asked, both checked, before the route is entered. `where` the work is done. */
export function answer<E extends Endpoint>(
  router: Router,
  db: Db,
  endpoint: E,
  route: (
    input: InputOf<E>,
    context: Context<CallerOf<E>>,
  ) => Promise<OutputOf<E>> | AsyncIterable<string | Uint8Array>,
  where: 'here' | 'elsewhere' = 'here',
): void {
  const answered = async (request: Request, response: Response): Promise<void> => {
    const coach = await admitted(db, endpoint, request);
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
  // A file and a reading are made elsewhere, and sent as slowly as they are taken.
  const looks = endpoint.method === 'get' && !endpoint.outputType && where === 'here';
  router[endpoint.method](endpoint.path, (request, response) => {
    const now = () => answered(request, response);
    if (looks) return turns(db).look(now);
    // What is read from a file takes minutes, and rests in between.
    return endpoint.method === 'get' || endpoint.bodyType ? now() : turns(db).take(now);
  });
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
