import {
  type Endpoint,
  endpoints,
  FactsByList,
  type ItemAnswer,
  mayAsk,
  Refusal,
  type Role,
} from '@ulkret/contract';
import { count, sql } from 'drizzle-orm';
import fc from 'fast-check';
import { createServer as createHttpServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { z } from 'zod';
import { aRep, factId } from '../../core/test';
import type { Db } from '../db/connect';
import { reps } from '../db/schema';
import { createServer } from '../index';
import type { Settings } from '../settings';
import { anAcademy, signInCookie } from './academy';

/** What a schema of the contract looks like as JSON Schema, as far as a request is made from it. */
interface Json {
  type?: string;
  const?: unknown;
  enum?: unknown[];
  anyOf?: Json[];
  oneOf?: Json[];
  allOf?: Json[];
  properties?: Record<string, Json>;
  required?: string[];
  additionalProperties?: Json | boolean;
  items?: Json;
  pattern?: string;
  format?: string;
  minLength?: number;
  maxLength?: number;
  minimum?: number;
  maximum?: number;
  exclusiveMinimum?: number;
  minItems?: number;
  maxItems?: number;
}

/** Ids that there are in the academy which is fuzzed, so that what is sent gets further than “there is no such thing”. */
interface KnownIds {
  slugs: readonly string[];
  uuids: readonly string[];
  /** What stands in a field of such a name, most of the time. */
  named: Readonly<Record<string, readonly unknown[]>>;
}

/** A request as it goes out: `raw` in place of the body is sent as it stands, under `type`. */
interface Sent {
  name: string;
  method: string;
  path: string;
  body: unknown;
  raw?: { text: string; type: string };
}

const instant = fc
  .integer({ min: Date.parse('2024-01-01'), max: Date.now() })
  .map((at) => new Date(at).toISOString());

function stringOf({ format, pattern, minLength = 0, maxLength = 40 }: Json, known: KnownIds) {
  if (format === 'date-time') return instant;
  if (format === 'date') return instant.map((at) => at.slice(0, 10));
  if (format === 'uuid') return fc.oneof(fc.constantFrom(...known.uuids), fc.uuid({ version: 7 }));
  if (format === 'email') return fc.constantFrom('somebody@hill.example', 'coach@hill.example');
  if (pattern?.startsWith('^[a-z0-9]'))
    return fc.oneof(
      { arbitrary: fc.constantFrom(...known.slugs), weight: 4 },
      fc.constantFrom('new-one', 'constructor'),
    );
  return fc.string({ minLength, maxLength: Math.max(minLength, Math.min(maxLength, 40)), unit: 'grapheme' });
}

/** A field's values: mostly such as fit others of the academy, so that a whole fact comes together now and then. */
const fieldOf = (key: string, schema: Json, known: KnownIds): fc.Arbitrary<unknown> =>
  Object.hasOwn(known.named, key)
    ? fc.oneof(
        { arbitrary: fc.constantFrom(...known.named[key]!), weight: 9 },
        { arbitrary: valuesOf(schema, known), weight: 1 },
      )
    : valuesOf(schema, known);

/** Values that a schema takes, or that at least look like it: what a refinement asks for beside is left to chance. */
function valuesOf(schema: Json, known: KnownIds): fc.Arbitrary<unknown> {
  if ('const' in schema) return fc.constant(schema.const);
  if (schema.enum) return fc.constantFrom(...schema.enum);
  const among = schema.anyOf ?? schema.oneOf;
  if (among) return fc.oneof(...among.map((one) => valuesOf(one, known)));
  if (schema.allOf)
    return fc
      .tuple(...schema.allOf.map((one) => valuesOf(one, known)))
      .map((all) => Object.assign({}, ...all) as unknown);
  switch (schema.type) {
    case 'object': {
      const own = Object.entries(schema.properties ?? {}).map(([key, of]) => [key, fieldOf(key, of, known)]);
      if (own.length === 0 && typeof schema.additionalProperties === 'object')
        return fc.dictionary(fc.constantFrom(...known.slugs), valuesOf(schema.additionalProperties, known));
      return fc.record(Object.fromEntries(own) as Record<string, fc.Arbitrary<unknown>>, {
        requiredKeys: schema.required ?? [],
      });
    }
    case 'array':
      return fc.array(valuesOf(schema.items ?? {}, known), {
        minLength: schema.minItems ?? 0,
        maxLength: Math.min(schema.maxItems ?? 4, Math.max(4, schema.minItems ?? 0)),
      });
    case 'string':
      return stringOf(schema, known);
    case 'integer':
    case 'number': {
      const min = Math.max(schema.minimum ?? schema.exclusiveMinimum ?? 0, -1000);
      const max = Math.max(min, Math.min(schema.maximum ?? 1000, 1000));
      return schema.type === 'integer'
        ? fc.oneof(fc.constant(Math.ceil(min)), fc.integer({ min: Math.ceil(min), max: Math.floor(max) }))
        : fc.double({ min, max, noNaN: true });
    }
    case 'boolean':
      return fc.boolean();
    case 'null':
      return fc.constant(null);
    default:
      return fc.jsonValue({ maxDepth: 2 });
  }
}

const deep = (levels: number): unknown => {
  let value: unknown = 1;
  for (let i = 0; i < levels; i++) value = [value];
  return value;
};

/** What should be nowhere: wrong types, odd characters, odd dates and numbers, hostile keys, much and deep. */
const hostile: readonly unknown[] = [
  null,
  true,
  0,
  -1,
  0.5,
  1e308,
  1e21,
  Number.MAX_SAFE_INTEGER + 1,
  '',
  ' ',
  'a\0b',
  '\ud800',
  '\udc00x',
  '__proto__',
  'constructor',
  '\u202e',
  'é'.repeat(300),
  'x'.repeat(20_000),
  '0026-01-01T00:00:00Z',
  '9999-12-31T23:59:59-14:00',
  '2026-02-30',
  '2026-01-01T25:00:00Z',
  "'; drop table reps; --",
  '<script>alert(1)</script>',
  '../../etc/passwd',
  '%00',
  [],
  {},
  [[[]]],
  deep(2000),
  Array.from({ length: 3000 }, () => 1),
  { id: { toString: 1 } },
  JSON.parse('{"__proto__":{"admin":true}}'),
  { constructor: { prototype: 1 } },
];

const pathsIn = (value: unknown, at: (string | number)[] = []): (string | number)[][] =>
  at.length > 5 || typeof value !== 'object' || value === null
    ? [at]
    : [
        at,
        ...Object.entries(value)
          .slice(0, 40)
          .flatMap(([key, of]) => pathsIn(of, [...at, Array.isArray(value) ? Number(key) : key])),
      ];

/** The value with one place broken: put in something hostile, take it out, or put something beside it. */
function broken(value: unknown, place: number, how: number): unknown {
  const paths = pathsIn(value);
  const at = paths[place % paths.length]!;
  const bad = hostile[how % hostile.length];
  if (at.length === 0) return bad;
  const copy = structuredClone(value) as Record<string | number, unknown>;
  const parent = at.slice(0, -1).reduce<typeof copy>((of, key) => of[key] as typeof copy, copy);
  const key = at.at(-1)!;
  if (how % 7 === 0) Reflect.deleteProperty(parent, key);
  else if (how % 7 === 1) Object.defineProperty(parent, `${key}x`, { value: bad, enumerable: true });
  else parent[key] = bad;
  return copy;
}

/** A table of reps, as it may come out of somebody's spreadsheet. */
const tablesOf = ({ slugs, uuids }: KnownIds): fc.Arbitrary<string> => {
  const cell = fc.oneof(
    {
      arbitrary: fc.constantFrom(...slugs, '', 'right', 'left', '2', 'stopped', 'finished', 'mat'),
      weight: 6,
    },
    { arbitrary: fc.oneof(instant, fc.constantFrom(...uuids)), weight: 3 },
    fc.constantFrom('"', '"a"b', 'x,y', '0026-01-01', '\0', '12.5', '=1+1', ';'),
  );
  const columns = ['at', 'technique', 'edition', 'student', 'partner', 'side', 'rung', 'outcome', 'stop'];
  const rows = fc.array(fc.array(cell, { minLength: 5, maxLength: columns.length + 1 }), { maxLength: 12 });
  return fc
    .tuple(rows, fc.constantFrom('\n', '\r\n', '\r'), fc.constantFrom(',', ';', '\t'))
    .map(([all, end, between]) => [columns, ...all].map((row) => row.join(between)).join(end));
};

const rawKinds = [
  'application/json',
  'text/csv',
  'text/plain',
  'application/x-www-form-urlencoded',
  'application/json; charset=utf-16',
];
const rawTexts = [
  '',
  '{',
  '[1,',
  '\0',
  '{"reps":[',
  'null',
  '"x"',
  'id;student\n1;2',
  'x\n'.repeat(5000),
  '{"a":1}{"b":2}',
];

const schemaOf = (of: z.ZodType): Json => z.toJSONSchema(of, { io: 'input', unrepresentable: 'any' }) as Json;

/** An address can hold no half of a character. */
const wellFormed = (text: string): string => Buffer.from(text).toString();

/** Requests of an endpoint: as the contract has them, broken at one place, or not JSON at all. */
function requestsOf(name: string, endpoint: Endpoint, known: KnownIds): fc.Arbitrary<Sent> {
  // The contract leaves facts open, so that each is judged by itself; here they are what they should be.
  const body = name === 'sendReps' ? FactsByList : endpoint.body;
  const hasBody = !(endpoint.body instanceof z.ZodUndefined);
  const parts = fc.record({
    params: valuesOf(schemaOf(endpoint.params), known),
    query: valuesOf(schemaOf(endpoint.query), known),
    body: !hasBody
      ? fc.constant(undefined)
      : endpoint.bodyType
        ? tablesOf(known)
        : valuesOf(schemaOf(body), known),
  });
  return fc
    .tuple(
      parts,
      fc.constantFrom('whole', 'whole', 'broken', 'broken', 'broken', 'raw'),
      fc.nat(1000),
      fc.nat(1000),
    )
    .map(([given, kind, place, how]): Sent => {
      const {
        params,
        query,
        body: sent,
      } = ((kind === 'broken' ? broken(given, place, how) : given) ?? {}) as typeof given;
      const text = (value: unknown) =>
        (typeof value === 'string' ? value : (JSON.stringify(value) ?? '')).slice(0, 3000);
      const filled = endpoint.path.replace(/:(\w+)/g, (_, key: string) =>
        encodeURIComponent(wellFormed(text((params as Record<string, unknown> | null)?.[key]))),
      );
      const asked = Object.entries((query ?? {}) as Record<string, unknown>)
        .filter(([, value]) => value !== undefined)
        .slice(0, 50)
        .map(([key, value]) => `${encodeURIComponent(key)}=${encodeURIComponent(wellFormed(text(value)))}`);
      const raw = { text: rawTexts[place % rawTexts.length]!, type: rawKinds[how % rawKinds.length]! };
      return {
        name,
        method: endpoint.method.toUpperCase(),
        path: asked.length > 0 ? `${filled}?${asked.join('&')}` : filled,
        body: hasBody ? sent : undefined,
        ...(hasBody && kind === 'raw' && { raw }),
        ...(endpoint.bodyType && kind !== 'raw' && { raw: { text: text(sent), type: endpoint.bodyType } }),
      };
    });
}

/** Answers that the contract knows; a refusal always says what happened and what to do. */
const documented = new Set([200, 400, 401, 403, 404, 409, 413, 415, 422, 429, 503]);
const longestMs = 5000;

/** Why an answer is not one that the contract knows; null where it is. */
function faultOf(status: number, type: string, text: string, spentMs: number): string | null {
  if (!documented.has(status)) return `it answered ${status}: ${text.slice(0, 200)}`;
  if (spentMs > longestMs) return `it took ${spentMs.toFixed(0)} ms`;
  if (status === 200) return null;
  const refusal = type.includes('json') ? Refusal.safeParse(JSON.parse(text)) : null;
  return refusal?.success ? null : `it answered ${status} without saying what to do: ${text.slice(0, 200)}`;
}

/** What the fuzz leaves alone: a stream has no end, and who signs out asks nothing any more. */
const left = new Set(['live', 'signOut']);

/** What takes people off the roster: asked last, when all has been read. */
const takesAway = new Set(['erase', 'mergeStudents']);

/** The addresses that can be read, filled in with what there is, and how each answers. */
async function readAll(url: string, cookie: string): Promise<Map<string, number>> {
  const of = { id: 'test-lock', technique: 'test-lock', student: 'ada', checkpoint: 'c1' };
  const all = (Object.values(endpoints) as unknown as Endpoint[]).filter(
    ({ method, outputType }) => method === 'get' && outputType !== 'text/event-stream',
  );
  const answers = new Map<string, number>();
  for (const { path } of all) {
    const filled = path.replace(/:(\w+)/g, (_, key: string) => of[key as 'id'] ?? '');
    const response = await fetch(`${url}${filled}?${new URLSearchParams(of)}`, { headers: { cookie } });
    await response.arrayBuffer();
    answers.set(path, response.status);
  }
  return answers;
}

const known: KnownIds = {
  slugs: ['ada', 'ben', 'cleo', 'test-lock', 'c1', 'c2', 'c3', 'm1', 'm2', 'd1', 'coach'],
  uuids: [factId(100), factId(101), factId(7)],
  named: {
    technique: ['test-lock'],
    edition: [1],
    student: ['ada', 'ben'],
    partner: ['cleo', null],
    person: ['ada'],
    stop: ['c2', 'c4'],
    heldTo: ['c2', null],
    checkpoint: ['c1', 'c3'],
    from: [null],
    to: [null],
    soft: [[], ['c1']],
    ways: [[]],
    task: [[]],
    measured: [[]],
    met: [[]],
    follows: [undefined],
    by: [null],
    cause: [null],
    session: [null, factId(7)],
    observer: ['coach'],
  },
};

/** What a fuzz has found. */
export interface Found {
  sent: number;
  accepted: number;
  /** Reps that were accepted and are not there, or are there and were not accepted. */
  astray: number;
  faults: { request: Sent; fault: string }[];
  /** How many answers of each status there were. */
  answers: Record<number, number>;
  /** Addresses that answer otherwise than before. */
  changed: string[];
}

/** Who sends: somebody of a role, or nobody who is signed in. */
export type Asking = Role | null;
/** The head coach, who gets furthest, and every fourth one a stranger. */
const mostlyHead: readonly Asking[] = ['head', 'head', 'head', null];

/** Somebody of each role beside the head coach, whom no request names. */
async function letIn(db: Db): Promise<void> {
  await db.execute(sql`
    insert into coaches (academy_id, id, name, email, password_hash, role, student_id)
    select academy_id, may || '-in', may, 'some-' || may || '@hill.example', password_hash, may,
      case when may = 'student' then 'dan' end
    from coaches, unnest(array['coach', 'assistant', 'operator', 'student']) as may
    where academy_id = 'hill' and id = 'coach'`);
}

/**
 * Sends seeded requests of every endpoint to a server over an academy of its own, in turn by each of those who ask, and tells what it
 * should not have answered, and whether all can be read afterwards as before. `eachThousand` is told the requests so far.
 */
export async function fuzz(
  db: Db,
  settings: Settings,
  {
    seed,
    runs,
    as = mostlyHead,
    eachThousand = () => undefined,
  }: { seed: number; runs: number; as?: readonly Asking[]; eachThousand?: (sent: number) => void },
): Promise<Found> {
  await anAcademy(db, 'hill');
  await letIn(db);
  const http = createHttpServer(createServer(db, settings));
  await new Promise<void>((resolve) => http.listen(0, '127.0.0.1', resolve));
  const url = `http://127.0.0.1:${(http.address() as AddressInfo).port}`;
  try {
    const cookie = await signInCookie(url, 'hill');
    const cookies = new Map<Asking, string>([['head', cookie]]);
    for (const role of ['coach', 'assistant', 'operator', 'student'] as const)
      cookies.set(role, await signInCookie(url, 'hill', `some-${role}`));
    const at = new Date(Date.now() - 86_400_000).toISOString();
    const first = Array.from({ length: 12 }, (_, i) => aRep({ id: factId(100 + i), at }));
    await fetch(`${url}/api/reps`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', cookie },
      body: JSON.stringify({ reps: first }),
    });
    const before = await readAll(url, cookie);
    const faults: Found['faults'] = [];
    const answers: Record<number, number> = {};
    let [sent, accepted] = [0, 0];
    const all = (Object.entries(endpoints) as unknown as [string, Endpoint][]).filter(
      ([name]) => !left.has(name),
    );
    let after: typeof before | null = null;
    for (const [name, endpoint] of all.sort(
      ([a], [b]) => Number(takesAway.has(a)) - Number(takesAway.has(b)),
    )) {
      // Who is taken away is no longer found, and rightly so.
      if (takesAway.has(name)) after ??= await readAll(url, cookie);
      const numRuns = name === 'sendReps' ? 4 * runs : runs;
      const requests = fc.sample(requestsOf(name, endpoint, known), { seed: seed + sent, numRuns });
      for (const [i, request] of requests.entries()) {
        const { method, path, body, raw } = request;
        const who = as[i % as.length]!;
        const signedIn = cookies.get(who);
        const payload = raw ? raw.text : body === undefined ? undefined : JSON.stringify(body);
        const start = performance.now();
        const response = await fetch(url + path, {
          method,
          headers: {
            ...(signedIn && { cookie: signedIn }),
            ...(payload !== undefined && { 'content-type': raw?.type ?? 'application/json' }),
          },
          ...(payload !== undefined && { body: payload }),
          signal: AbortSignal.timeout(30_000),
        });
        const text = await response.text();
        sent++;
        if (sent % 1000 === 0) eachThousand(sent);
        answers[response.status] = (answers[response.status] ?? 0) + 1;
        const type = response.headers.get('content-type') ?? '';
        const fault = faultOf(response.status, type, text, performance.now() - start);
        if (fault !== null) faults.push({ request, fault });
        if (response.status === 200 && !mayAsk(who, endpoint.who))
          faults.push({ request, fault: `it answered ${who ?? 'a stranger'}, who may not ask it` });
        if (response.status !== 200) continue;
        if (name === 'sendReps')
          accepted += (JSON.parse(text) as { items: ItemAnswer[] }).items.filter(
            ({ is, answer }) => is === 'rep' && answer === 'accepted',
          ).length;
        if (name === 'importReps' && !path.includes('look=yes'))
          accepted += (JSON.parse(text) as { accepted: string[] }).accepted.length;
      }
    }
    const [{ n }] = (await db.select({ n: count() }).from(reps)) as [{ n: number }];
    const now = after ?? (await readAll(url, cookie));
    const changed = [...before]
      .filter(([path, status]) => now.get(path) !== status)
      .map(([path, status]) => `${path} answered ${status} before, and ${now.get(path)} after`);
    return { sent, accepted, astray: Math.abs(n - first.length - accepted), faults, answers, changed };
  } finally {
    http.closeAllConnections();
    await new Promise((resolve) => http.close(resolve));
  }
}
