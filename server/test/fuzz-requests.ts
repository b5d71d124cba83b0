import { type Endpoint, FactsByList } from '@ulkret/contract';
import fc from 'fast-check';
import { z } from 'zod';

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
export interface KnownIds {
  slugs: readonly string[];
  uuids: readonly string[];
  /** Typical values of a field of this name. */
  named: Readonly<Record<string, readonly unknown[]>>;
}

/** A request as it goes out: `raw` in place of the body is sent unchanged, under `type`. */
export interface Sent {
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

/** Values that a schema takes, or that at least look like it: further refinements are left to chance. */
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

/** The value with one place broken: something hostile put in, something removed, or something added. */
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
export function requestsOf(name: string, endpoint: Endpoint, known: KnownIds): fc.Arbitrary<Sent> {
  // The contract leaves facts open, so that each is judged on its own; here they are what they should be.
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
