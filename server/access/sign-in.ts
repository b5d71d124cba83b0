import { createHmac } from 'node:crypto';
import { endpoints } from '@ulkret/contract';
import type { Id } from '@ulkret/core/breakdown';
import type { CookieOptions, Request, Response } from 'express';
import { closeSignIn, coachOfSignIn, openSignIn, passwordHashOf, type SignedInCoach } from './coaches';
import type { Db } from '../db/connect';
import { within } from '../db/within';
import { handedOut, hashSecret, newSecret, readSecret } from './secrets';

const cookieName = 'ulkret_session';
const lastsMs = 30 * 86_400_000;

const cookieOptions = (request: Request): CookieOptions => ({
  httpOnly: true,
  sameSite: 'strict',
  secure: request.secure,
  path: '/',
  maxAge: lastsMs,
});

/** A cookie as it was sent; one that says it is JSON is none of ours. */
function cookieOf(request: Request, name: string): string {
  const given = (request.cookies as Record<string, unknown>)[name];
  return typeof given === 'string' ? given : '';
}

const readCookie = (request: Request) => readSecret(cookieOf(request, cookieName));

/** The hash of the secret that a device signs in with; empty where it has none. */
export const hereHash = (request: Request): string => readCookie(request)?.secretHash ?? '';

/** What a device says it is: enough, with the day it was last seen, to know it again in a list. */
export function deviceOf(request: Request): string {
  const said = request.get('user-agent') ?? '';
  if (said === '') return 'a device';
  if (/Tablet|Pad\b/.test(said)) return 'a tablet';
  return /Mobi/.test(said) ? 'a phone' : 'a computer';
}

/** The coach who asks, or null where nobody is signed in. */
export async function coachOf(db: Db, request: Request): Promise<SignedInCoach | null> {
  const cookie = readCookie(request);
  return cookie && within(cookie.academyId, () => coachOfSignIn(db, cookie.academyId, cookie.secretHash));
}

export async function signIn(
  db: Db,
  request: Request,
  response: Response,
  /** With the hash of the password that was checked, if one was. */
  coach: { academyId: Id; id: Id; passwordHash?: string },
): Promise<void> {
  // The former user of this device is signed out.
  const before = readCookie(request);
  if (before) await closeSignIn(db, before.academyId, before.secretHash);
  const secret = newSecret();
  const expiresAt = new Date(Date.now() + lastsMs).toISOString();
  await openSignIn(db, coach.academyId, coach.id, hashSecret(secret), {
    expiresAt,
    device: deviceOf(request),
    checked: coach.passwordHash,
  });
  response.cookie(cookieName, handedOut(coach.academyId, secret), cookieOptions(request));
  const passwordHash = await passwordHashOf(db, coach.academyId, coach.id);
  if (passwordHash !== null) remember(request, response, knownAs({ ...coach, passwordHash }));
}

/** A device keeps for a year as whom it has been in; it opens nothing. */
const knownCookie = 'ulkret_known';
const knownMs = 365 * 86_400_000;
/** As many coaches may share a device. */
const mostKnown = 6;

const knownOn = (request: Request): string[] =>
  cookieOf(request, knownCookie)
    .split('.')
    .filter((one) => one !== '')
    .slice(0, mostKnown);

/** What only this server could have given to a device that came in as this coach; it ends with their password. */
const knownAs = ({ id, passwordHash }: { id: Id; passwordHash: string }): string =>
  createHmac('sha256', passwordHash).update(`known device of ${id}`).digest('base64url');

function remember(request: Request, response: Response, one: string): void {
  const kept = [one, ...knownOn(request).filter((other) => other !== one)].slice(0, mostKnown).join('.');
  // It is sent nowhere but to the door.
  response.cookie(knownCookie, kept, {
    ...cookieOptions(request),
    path: endpoints.signIn.path,
    maxAge: knownMs,
  });
}

/** As what a device is known that was in as this coach before; null where it was not. */
export function knownDevice(request: Request, coach: { id: Id; passwordHash: string } | null): string | null {
  const known = coach && knownAs(coach);
  return known !== null && knownOn(request).includes(known) ? known : null;
}

export async function signOut(db: Db, request: Request, response: Response): Promise<void> {
  const cookie = readCookie(request);
  if (cookie) await closeSignIn(db, cookie.academyId, cookie.secretHash);
  const { maxAge: _, ...options } = cookieOptions(request);
  response.clearCookie(cookieName, options);
}
