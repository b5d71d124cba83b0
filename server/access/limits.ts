import { createHash } from 'node:crypto';
import type { Request } from 'express';
import { lt, sql } from 'drizzle-orm';
import ipaddr from 'ipaddr.js';
import { RateLimiterDrizzle, RateLimiterRes } from 'rate-limiter-flexible';
import type { Db } from '../db/connect';
import { rateLimits } from '../db/schema';
import { Refused } from '../refused';
import { coachOf, hereHash } from './sign-in';

const minute = 60;
const hour = 60 * minute;
/** Expired rows are swept once in this many tries. */
const sweepOnce = 500;
const expired = lt(rateLimits.expire, sql`now()`);

/** The remaining time, in words. */
function waitWords(ms: number): string {
  const minutes = Math.ceil(ms / 60_000);
  return minutes <= 1 ? 'a minute' : `${minutes} minutes`;
}

/** Whose tries are counted, under the limit that counts them. */
type Counted = readonly [limiter: RateLimiterDrizzle, of: string];

/** Where somebody asks from: one address, or the network of a household where each device has addresses of its own. */
function placeOf(request: Request): string {
  const given = request.ip ?? '';
  if (!ipaddr.isValid(given)) return 'nowhere';
  const address = ipaddr.process(given);
  return address.kind() === 'ipv4'
    ? address.toString()
    : (address as ipaddr.IPv6).parts.slice(0, 4).join(':');
}

/** Counts carry nobody's name. */
const nameless = (...parts: string[]): string =>
  createHash('sha256').update(parts.join(' ')).digest('base64url');

/** Runs a task that counts as a try, and refunds the try if the task did not fail as a wrong guess. */
function tryingIn(db: Db) {
  let tries = 0;
  return async function trying<T>(
    counted: readonly Counted[],
    { wrong, words }: { wrong: number; words: string },
    work: () => Promise<T>,
  ): Promise<T> {
    const taken: Counted[] = [];
    const giveBack = () => Promise.all(taken.map(([limiter, of]) => limiter.reward(of)));
    if (++tries % sweepOnce === 0) await db.delete(rateLimits).where(expired);
    for (const one of counted)
      try {
        await one[0].consume(one[1]);
        taken.push(one);
      } catch (full) {
        if (!(full instanceof RateLimiterRes)) throw full;
        await giveBack();
        throw new Refused(
          429,
          words,
          `Wait ${waitWords(full.msBeforeNext)} and try again.`,
          Math.ceil(full.msBeforeNext / 1000),
        );
      }
    try {
      const told = await work();
      await giveBack();
      return told;
    } catch (error) {
      // What broke, or could not be read, was no guess.
      if (!(error instanceof Refused && error.status === wrong)) await giveBack();
      throw error;
    }
  };
}

/**
 * How often wrong tries are allowed. Counted in the database, so that it holds across servers and restarts. Attempts
 * are counted first and refunded on success, so parallel tries cannot slip through.
 */
export function limitsOf(db: Db) {
  const most = (name: string, points: number, seconds: number) =>
    new RateLimiterDrizzle({
      storeClient: db,
      schema: rateLimits,
      keyPrefix: name,
      points,
      duration: seconds,
      clearExpiredByTimeout: false,
    });
  const fromAPlace = most('sign-in place', 200, 5 * minute);
  const atOnce = most('sign-in soon', 6, minute);
  const inAWhile = most('sign-in', 15, 15 * minute);
  // Against many who guess from many places (OWASP ASVS 4.0, 2.2.1: no more than a hundred an hour on one account).
  const fromEverywhere = most('sign-in account', 100, hour);
  const passwords = most('password', 10, 15 * minute);
  const codes = most('first code', 20, 15 * minute);
  const links = most('link', 100, 5 * minute);

  const trying = tryingIn(db);

  return {
    /**
     * A sign-in. A few wrong ones of one account block it for a while, per place, so that nobody locks out its owner
     * from elsewhere; a device that was signed in as this account before (`device`) is counted separately.
     */
    signIn: <T>(
      request: Request,
      email: string,
      device: string | null,
      work: () => Promise<T>,
    ): Promise<T> => {
      const place = placeOf(request);
      const account = email.trim().toLowerCase();
      const one = device === null ? nameless(account, place) : nameless(account, 'device', device);
      return trying(
        [
          ...(device === null
            ? ([
                [fromAPlace, nameless(place)],
                [fromEverywhere, nameless(account)],
              ] as const)
            : []),
          [atOnce, one],
          [inAWhile, one],
        ],
        { wrong: 401, words: 'Too many wrong sign-ins.' },
        work,
      );
    },
    /** A change of password, with the old one. */
    password: <T>(request: Request, work: () => Promise<T>): Promise<T> =>
      trying([[passwords, hereHash(request)]], { wrong: 422, words: 'Too many wrong passwords.' }, work),
    /** The code of the first coach, by everybody together: there is only one to be found. */
    code: <T>(work: () => Promise<T>): Promise<T> =>
      trying([[codes, 'all']], { wrong: 403, words: 'Too many wrong codes.' }, work),
    /** A link with a secret in it. */
    link: async <T>(request: Request, work: () => Promise<T>): Promise<T> => {
      // Strangers of one address do not lock out somebody who is signed in there.
      const own = (await coachOf(db, request)) && hereHash(request);
      return trying(
        [[links, own ? nameless('signed in', own) : nameless(placeOf(request))]],
        { wrong: 404, words: 'Too many links that open nothing.' },
        work,
      );
    },
  };
}
export type Limits = ReturnType<typeof limitsOf>;
