import type { z } from 'zod';

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
  /** May be asked without a sign-in. */
  open?: true | undefined;
  params: Params;
  query: Query;
  body: Body;
  /** What the body is sent as; JSON where it is not said. */
  bodyType?: 'text/csv';
  output: Output;
  outputType?: 'text/csv' | 'text/event-stream';
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
