import { Id } from '@ulkret/core/breakdown';
import type { CookieOptions, Request, Response } from 'express';
import { closeSignIn, coachOfSignIn, openSignIn, type SignedInCoach } from './coaches';
import type { Db } from '../db/connect';
import { hashSecret, newSecret } from './secrets';

const cookieName = 'ulkret_session';
const lastsMs = 30 * 86_400_000;

const cookieOptions = (request: Request): CookieOptions => ({
  httpOnly: true,
  sameSite: 'strict',
  secure: request.secure,
  path: '/',
  maxAge: lastsMs,
});

/** The cookie names its academy, so that even the look-up of a sign-in is scoped to one. */
function readCookie(request: Request): { academyId: Id; secretHash: string } | null {
  const [academy, secret] = String((request.cookies as Record<string, unknown>)[cookieName] ?? '').split('.');
  const id = Id.safeParse(academy);
  return id.success && secret ? { academyId: id.data, secretHash: hashSecret(secret) } : null;
}

/** The coach who asks, or null where nobody is signed in. */
export async function coachOf(db: Db, request: Request): Promise<SignedInCoach | null> {
  const cookie = readCookie(request);
  return cookie && coachOfSignIn(db, cookie.academyId, cookie.secretHash);
}

export async function signIn(
  db: Db,
  request: Request,
  response: Response,
  coach: { academyId: Id; id: Id },
): Promise<void> {
  const secret = newSecret();
  const expiresAt = new Date(Date.now() + lastsMs).toISOString();
  await openSignIn(db, coach.academyId, coach.id, hashSecret(secret), expiresAt);
  response.cookie(cookieName, `${coach.academyId}.${secret}`, cookieOptions(request));
}

export async function signOut(db: Db, request: Request, response: Response): Promise<void> {
  const cookie = readCookie(request);
  if (cookie) await closeSignIn(db, cookie.academyId, cookie.secretHash);
  const { maxAge: _, ...options } = cookieOptions(request);
  response.clearCookie(cookieName, options);
}
