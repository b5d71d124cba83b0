import { z } from 'zod';

/** The roles of those who sign in, from the least that may to the most. */
export const roles = ['assistant', 'head'] as const;
export type Role = (typeof roles)[number];
export type Who = 'anyone' | Role;

/** May somebody of this role (null: nobody is signed in) ask what is for `who`? */
export const mayAsk = (role: Role | null, who: Who): boolean =>
  who === 'anyone' || (role !== null && roles.indexOf(role) >= roles.indexOf(who));

/** One thing that can be asked over HTTP, as data. The server, the web and the OpenAPI page are made from it. */
export interface Endpoint<
  Params extends z.ZodType = z.ZodType,
  Query extends z.ZodType = z.ZodType,
  Body extends z.ZodType = z.ZodType,
  Output extends z.ZodType = z.ZodType,
> {
  method: 'get' | 'post' | 'put' | 'delete';
  /** Express and OpenAPI path; parameters as `:name`. */
  path: `/api/${string}`;
  summary: string;
  /** Who may ask: the least role that may, or anyone, signed in or not. */
  who: Who;
  params: Params;
  query: Query;
  body: Body;
  /** What the body is sent as; JSON where it is not said. */
  bodyType?: 'text/csv';
  output: Output;
  /** Anything but JSON in one piece: the answer is a text, or its parts one after the other. */
  outputType?: 'text/csv' | 'text/calendar' | 'text/event-stream' | 'application/json';
}

export type InputOf<E> =
  E extends Endpoint<infer Params, infer Query, infer Body>
    ? { params: z.output<Params>; query: z.output<Query>; body: z.output<Body> }
    : never;
export type OutputOf<E> =
  E extends Endpoint<z.ZodType, z.ZodType, z.ZodType, infer Output> ? z.output<Output> : never;
/** What is sent: lists and fields that have a default may be left out. */
export type SentTo<E> =
  E extends Endpoint<infer Params, infer Query, infer Body>
    ? { params: z.input<Params>; query: z.output<Query>; body: z.input<Body> }
    : never;

const nothing = z.object({});
/** An endpoint with what it leaves out filled in: no parameters, no query, no body. */
export const define = <
  Params extends z.ZodType = typeof nothing,
  Query extends z.ZodType = typeof nothing,
  Body extends z.ZodType = z.ZodUndefined,
  Output extends z.ZodType = z.ZodType,
  const May extends Who = Who,
>(
  endpoint: Omit<Endpoint<Params, Query, Body, Output>, 'params' | 'query' | 'body' | 'who'> & {
    params?: Params;
    query?: Query;
    body?: Body;
    who: May;
  },
): Endpoint<Params, Query, Body, Output> & { who: May } => ({
  ...endpoint,
  params: endpoint.params ?? (nothing as z.ZodType as Params),
  query: endpoint.query ?? (nothing as z.ZodType as Query),
  body: endpoint.body ?? (z.undefined() as z.ZodType as Body),
});

/** Header of every answer: the server's clock, in milliseconds since the epoch. */
export const serverTime = 'server-time';

/** How every refusal reads: what happened, and what to do. */
export const Refusal = z.object({ error: z.string(), todo: z.string() });
export type Refusal = z.infer<typeof Refusal>;
