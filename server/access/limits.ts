import type { Request, RequestHandler } from 'express';
import { ipKeyGenerator, rateLimit } from 'express-rate-limit';
import { Refused } from '../refused';
import { hereHash } from './sign-in';

const minute = 60_000;

/** Only what opens nothing counts: not what opens, and not what could not be read. */
const limit = (
  windowMs: number,
  most: number,
  keyGenerator: (request: Request) => string,
  wait: string,
  { wrong, words } = { wrong: 401, words: 'Too many wrong sign-ins.' },
) =>
  rateLimit({
    windowMs,
    limit: most,
    keyGenerator,
    skipSuccessfulRequests: true,
    requestWasSuccessful: (_, response) => response.statusCode !== wrong,
    handler: () => {
      throw new Refused(429, words, `Wait ${wait} and try again.`);
    },
  });

const accountOf = (request: Request): string => {
  const email: unknown = (request.body as { email?: unknown } | undefined)?.email;
  return typeof email === 'string' ? `account ${email.trim().toLowerCase()}` : 'no account';
};
const addressOf = (request: Request): string => ipKeyGenerator(request.ip ?? '');

/**
 * How often a wrong password may be tried: of one account a few times, then with growing waits; from one address, behind
 * which a whole club may stand, often.
 */
export const signInLimits = (): RequestHandler[] => [
  limit(5 * minute, 200, addressOf, 'five minutes'),
  limit(minute, 6, accountOf, 'a minute'),
  limit(15 * minute, 15, accountOf, 'a quarter of an hour'),
];

/** How often a wrong old password may be tried on one device. */
export const passwordLimits = (): RequestHandler[] => [
  limit(15 * minute, 10, hereHash, 'a quarter of an hour', {
    wrong: 422,
    words: 'Too many wrong passwords.',
  }),
];

/** How often a wrong code of the first coach may be tried, by everybody together: there is only one to be found. */
export const codeLimits = (): RequestHandler[] => [
  limit(15 * minute, 20, () => 'first', 'a quarter of an hour', {
    wrong: 403,
    words: 'Too many wrong codes.',
  }),
];

/** How often a link that opens no card may be tried from one address. */
export const cardLimits = (): RequestHandler[] => [
  limit(5 * minute, 100, addressOf, 'five minutes', {
    wrong: 404,
    words: 'Too many links that open nothing.',
  }),
];
