import type { Request, RequestHandler } from 'express';
import { ipKeyGenerator, rateLimit } from 'express-rate-limit';
import { Refused } from '../http';

const minute = 60_000;

/** Only a wrong password counts: not a right one, and not what could not be read. */
const limit = (windowMs: number, most: number, keyGenerator: (request: Request) => string, wait: string) =>
  rateLimit({
    windowMs,
    limit: most,
    keyGenerator,
    skipSuccessfulRequests: true,
    requestWasSuccessful: (_, response) => response.statusCode !== 401,
    handler: () => {
      throw new Refused(429, 'Too many wrong sign-ins.', `Wait ${wait} and try again.`);
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
