import { endpoints } from '@ulkret/contract';
import express, { type Request, type RequestHandler } from 'express';
import { coachOf } from '../access/sign-in';
import { makeWellFormed, oddEscape, tooCostly } from '../odd';
import { nobodyHere, Refused } from '../refused';
import type { Db } from '../db/connect';

const strangersBytes = 16 * 1024;
/** A whole library may come in as large as it goes out of any academy. */
const largest: Readonly<Record<string, string>> = { [endpoints.importBreakdowns.path]: '32mb' };
const large = '8mb';

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
      if (error === undefined && isOdd.has(request)) makeWellFormed([request.body]);
      next(error);
    });
  };
}
