import { z } from 'zod';

/**
 * The roles of those who sign in: a student sees their own card, an operator keeps the server and sees no people, an assistant
 * logs and sees, a coach decides and writes the library, a head coach says who may.
 */
export const roles = ['student', 'operator', 'assistant', 'coach', 'head'] as const;
export const Role = z.enum(roles);
export type Role = z.infer<typeof Role>;

/** Whom an endpoint is for, and the roles that this takes in. */
const whom = {
  everybody: roles,
  student: ['student'],
  operator: ['operator', 'head'],
  assistant: ['assistant', 'coach', 'head'],
  coach: ['coach', 'head'],
  head: ['head'],
} as const satisfies Record<string, readonly Role[]>;
export type Who = 'anyone' | keyof typeof whom;

/** May somebody of this role (null: nobody is signed in) ask what is for `who`? */
export const mayAsk = (role: Role | null, who: Who): boolean =>
  who === 'anyone' || (role !== null && (whom[who] as readonly Role[]).includes(role));

/** An entry of the access log: who viewed, exported or changed personal data. */
export const accessKinds = [
  'looked at',
  'changed',
  'made one of two',
  'took out all about',
  'took out the reps',
  'took out every fact',
  'took out the academy',
  'brought an academy in',
  'made a link to the card of',
  'wrote a note about',
  'took a note away about',
  'erased somebody',
  'changed who may sign in',
  'invited',
  'signed in',
  'failed to sign in',
  'set a new password',
  'made a passkey',
  'removed a passkey',
  'signed out other devices',
  'changed the rules',
  'forgot earlier entries',
] as const;
export type AccessKind = (typeof accessKinds)[number];

/** Of these a head coach hears without asking. */
export const notableAccesses = [
  'took out all about',
  'took out the reps',
  'took out every fact',
  'took out the academy',
  'brought an academy in',
  'erased somebody',
  'changed who may sign in',
  'invited',
  'failed to sign in',
  'changed the rules',
  'forgot earlier entries',
] as const satisfies readonly AccessKind[];

/** The value of the Prefer header (RFC 7240) by which a client asks for interim statuses while its file is read. */
export const interimStatus = 'interim-status';

/** The types of files that are read in parts. */
export type FileType = 'text/csv' | 'application/zip';

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
  /** The body is a file of this type, which is read in parts as it comes; JSON in one piece where it is not said. */
  bodyType?: FileType | undefined;
  output: Output;
  /** It is written down who asked it, as this, and about whom: for the head coach to see. */
  watched?: { as: AccessKind; about?: 'id' | 'student' } | undefined;
  /** Its caller has proved who they are within the last quarter of an hour. */
  again?: true;
  /** Anything but JSON in one piece: the answer is a text, or its parts one after the other. */
  outputType?: FileType | 'text/html' | 'text/calendar' | 'text/event-stream' | 'application/json';
}

export type InputOf<E> =
  E extends Endpoint<infer Params, infer Query, infer Body>
    ? {
        params: z.output<Params>;
        query: z.output<Query>;
        body: E extends { bodyType: FileType } ? AsyncIterable<Uint8Array> : z.output<Body>;
      }
    : never;
export type OutputOf<E> =
  E extends Endpoint<z.ZodType, z.ZodType, z.ZodType, infer Output> ? z.output<Output> : never;
/** What is sent: lists and fields that have a default may be left out. */
export type SentTo<E> =
  E extends Endpoint<infer Params, infer Query, infer Body>
    ? {
        params: z.input<Params>;
        query: z.output<Query>;
        body: E extends { bodyType: FileType } ? Blob | string : z.input<Body>;
      }
    : never;

/** What is made when it is first asked for, and once. */
function once<T>(make: () => T): () => T {
  let made: { value: T } | null = null;
  return () => (made ??= { value: make() }).value;
}

const nothing = once(() => z.object({}));
/**
 * An endpoint with what it leaves out filled in: no parameters, no query, no body. Its schemas are built when they are first
 * asked for: a device that opens the Mat needs few of them.
 */
export function define<
  Params extends z.ZodType = ReturnType<typeof nothing>,
  Query extends z.ZodType = ReturnType<typeof nothing>,
  Body extends z.ZodType = z.ZodUndefined,
  Output extends z.ZodType = z.ZodType,
  const May extends Who = Who,
  const Type extends FileType | undefined = undefined,
>({
  params,
  query,
  body,
  output,
  ...endpoint
}: Omit<Endpoint, 'params' | 'query' | 'body' | 'output' | 'who' | 'bodyType'> & {
  params?: () => Params;
  query?: () => Query;
  body?: () => Body;
  output: () => Output;
  who: May;
  bodyType?: Type;
}): Endpoint<Params, Query, Body, Output> & { who: May; bodyType: Type } {
  const made = {
    params: once(params ?? (nothing as () => z.ZodType as () => Params)),
    query: once(query ?? (nothing as () => z.ZodType as () => Query)),
    body: once(body ?? (z.undefined as () => z.ZodType as () => Body)),
    output: once(output),
  };
  return {
    ...endpoint,
    bodyType: endpoint.bodyType as Type,
    get params() {
      return made.params();
    },
    get query() {
      return made.query();
    },
    get body() {
      return made.body();
    },
    get output() {
      return made.output();
    },
  };
}

/** Header of every answer: the server's clock, in milliseconds since the epoch. */
export const serverTime = 'server-time';

/** How every refusal reads: what happened, and what to do. */
export const Refusal = z.object({
  error: z.string(),
  todo: z.string(),
  /** The caller is to prove again who they are, and then to ask again. */
  again: z.literal(true).optional(),
});
export type Refusal = z.infer<typeof Refusal>;
