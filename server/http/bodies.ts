import { endpoints } from '@ulkret/contract';
import express, { type Request, type RequestHandler } from 'express';
import { coachOf } from '../access/sign-in';
import { nobodyHere, Refused } from '../refused';
import type { Db } from '../db/connect';

const strangersBytes = 16 * 1024;
/** A whole library may come in as large as it goes out of any academy. */
const largest: Readonly<Record<string, string>> = { [endpoints.importBreakdowns.path]: '32mb' };
const large = '8mb';

/** What no store can hold: NUL, and half of a pair of characters. */
const odd = /\0|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g;
/** How JSON writes what may be odd: in no other way can it come in. */
const oddEscape = /\\u(0000|d[89a-f])/i;

/** Text as every store can hold it: without NUL, and with the sign for an unknown character in place of half of one. */
const wellFormed = (text: string): string =>
  text.replace(odd, (character) => (character === '\0' ? '' : '\ufffd'));

/** Makes every text in a value well-formed, however deep it lies. */
function clean(value: unknown): void {
  const open = [value];
  const cleanAt = (at: Record<string | number, unknown>, key: string | number) => {
    const one = at[key];
    if (typeof one === 'string') at[key] = wellFormed(one);
    else if (typeof one === 'object' && one !== null) open.push(one);
  };
  while (open.length > 0) {
    const at = open.pop() as Record<string | number, unknown>;
    if (Array.isArray(at)) for (let i = 0; i < at.length; i++) cleanAt(at as unknown as never, i);
    else for (const key of Object.keys(at)) cleanAt(at, key);
  }
}

/** No body of the contract is nested nearly as deep. */
const deepest = 1000;
/** Values that a body may have, in lists and things: a library of two thousand techniques has fewer. */
const mostValues = 2_000_000;

/** Why a body costs more to read than any that means well; null where it does not. Looks at each byte once, before it is read. */
export function tooCostly(bytes: Uint8Array): string | null {
  let [depth, values, inText] = [0, 0, false];
  for (let i = 0; i < bytes.length; i++) {
    const byte = bytes[i];
    if (inText) {
      if (byte === 0x5c) i++;
      else if (byte === 0x22) inText = false;
    } else if (byte === 0x22) inText = true;
    else if (byte === 0x5b || byte === 0x7b) {
      if (++depth > deepest) return `It is nested deeper than ${deepest}.`;
    } else if (byte === 0x5d || byte === 0x7d) depth--;
    else if (byte === 0x2c && ++values > mostValues) return `It has more than ${mostValues} values.`;
  }
  return null;
}

const isOdd = new WeakSet<object>();
const json = (limit: string) =>
  express.json({
    limit,
    verify: (request, _, bytes) => {
      const why = tooCostly(bytes);
      if (why !== null) throw new Refused(413, why, 'Send it in smaller parts; nothing was changed.');
      if (oddEscape.test(bytes.toString('latin1'))) isOdd.add(request);
    },
  });

/**
 * Reads the JSON that was sent. Who sends more than a little is known before it is read: a stranger cannot make anybody wait.
 * Files are read by those who are sent them, in parts.
 */
export function bodies(db: Db): RequestHandler {
  const readers = new Map(
    [strangersBytes, large, ...Object.values(largest)].map((of) => [of, json(`${of}`)]),
  );
  const limitOf = async (request: Request): Promise<string | number> => {
    const length = Number(request.headers['content-length'] ?? Infinity);
    const hasBody = request.headers['content-length'] !== undefined || 'transfer-encoding' in request.headers;
    if (!hasBody || length <= strangersBytes) return strangersBytes;
    if (!(await coachOf(db, request))) throw nobodyHere();
    return largest[request.baseUrl + request.path] ?? large;
  };
  return async (request, response, next) => {
    const read = readers.get(await limitOf(request))!;
    read(request, response, (error?: unknown) => {
      if (error === undefined && isOdd.has(request)) clean([request.body]);
      next(error);
    });
  };
}
