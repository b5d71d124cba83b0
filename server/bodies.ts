import express, { type RequestHandler } from 'express';
import { coachOf } from './access/sign-in';
import { nobodyHere } from './http';
import type { Db } from './db/connect';

const strangers = '16kb';
const strangersBytes = 16 * 1024;

/** What no store can hold: NUL, and half of a pair of characters. */
const odd = /\0|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g;

/** Text as every store can hold it: without NUL, and with the sign for an unknown character in place of half of one. */
const wellFormed = (text: string): string =>
  text.replace(odd, (character) => (character === '\0' ? '' : '\ufffd'));

const cleaned = (_: string, value: unknown): unknown =>
  typeof value === 'string' ? wellFormed(value) : value;

const json = (limit: string) => express.json({ limit, reviver: cleaned });
const csv = (limit: string) => express.text({ type: 'text/csv', limit });

/** Reads what was sent. Who sends more than a little is known before it is read: a stranger cannot make anybody wait. */
export function bodies(db: Db): RequestHandler[] {
  const small = [json(strangers), csv(strangers)];
  const large = [json('8mb'), csv('32mb')];
  const nth =
    (i: number): RequestHandler =>
    async (request, response, next) => {
      const length = Number(request.headers['content-length'] ?? Infinity);
      const hasBody =
        request.headers['content-length'] !== undefined || 'transfer-encoding' in request.headers;
      const isLarge = hasBody && !(length <= strangersBytes);
      if (isLarge && !(await coachOf(db, request))) throw nobodyHere();
      (isLarge ? large : small)[i]!(request, response, next);
    };
  return [nth(0), nth(1)];
}
