import {
  type AuthenticationResponseJSON,
  generateAuthenticationOptions,
  generateRegistrationOptions,
  type RegistrationResponseJSON,
  verifyAuthenticationResponse,
  verifyRegistrationResponse,
} from '@simplewebauthn/server';
import type { Passkey } from '@ulkret/contract';
import type { Id } from '@ulkret/core/breakdown';
import { and, eq, gt, isNull, lt, sql } from 'drizzle-orm';
import type { Request } from 'express';
import type { Db } from '../db/connect';
import { challenges, coaches, passkeys } from '../db/schema';
import { Refused } from '../refused';

interface Owner {
  academyId: Id;
  id: Id;
}

const lastsMs = 5 * 60_000;
const rpName = 'Ulkret';

/** The server as a browser sees it: a passkey is of one host name. */
const here = (request: Request) => ({
  rpID: request.hostname,
  origin: `${request.protocol}://${request.get('host') ?? ''}`,
});

async function keep(db: Db, challenge: string): Promise<void> {
  await db.delete(challenges).where(lt(challenges.expiresAt, sql`now()`));
  await db.insert(challenges).values({ challenge, expiresAt: new Date(Date.now() + lastsMs).toISOString() });
}

/** Is it one of ours? Each is used once. */
const takenBack = (db: Db) => async (challenge: string) =>
  (
    await db
      .delete(challenges)
      .where(and(eq(challenges.challenge, challenge), gt(challenges.expiresAt, sql`now()`)))
      .returning({ challenge: challenges.challenge })
  ).length > 0;

export const passkeysOf = (db: Db, { academyId, id }: Owner): Promise<Passkey[]> =>
  db
    .select({ id: passkeys.id, device: passkeys.device, madeAt: passkeys.madeAt })
    .from(passkeys)
    .where(and(eq(passkeys.academyId, academyId), eq(passkeys.coachId, id)))
    .orderBy(passkeys.madeAt, passkeys.id);

/** What a browser needs to make a passkey for somebody. */
export async function optionsFor(db: Db, request: Request, coach: Owner & { name: string; academy: string }) {
  const options = await generateRegistrationOptions({
    rpName,
    rpID: here(request).rpID,
    userName: `${coach.name}, ${coach.academy}`,
    userID: new TextEncoder().encode(coach.id),
    excludeCredentials: (await passkeysOf(db, coach)).map(({ id }) => ({ id })),
    authenticatorSelection: { residentKey: 'required', userVerification: 'required' },
  });
  await keep(db, options.challenge);
  return options;
}

const refused = () =>
  new Refused(401, 'This passkey does not fit.', 'Try again, or sign in with your password.');

/** Keeps a passkey that a browser has made. */
export async function addPasskey(
  db: Db,
  request: Request,
  { academyId, id }: Owner,
  device: string,
  made: unknown,
): Promise<void> {
  const { rpID, origin } = here(request);
  const { verified, registrationInfo } = await verifyRegistrationResponse({
    response: made as RegistrationResponseJSON,
    expectedChallenge: takenBack(db),
    expectedOrigin: origin,
    expectedRPID: rpID,
  }).catch(() => ({ verified: false as const, registrationInfo: undefined }));
  if (!verified || !registrationInfo)
    throw new Refused(422, 'The passkey could not be made.', 'Try again; nothing was changed.');
  const { credential } = registrationInfo;
  await db.insert(passkeys).values({
    academyId,
    coachId: id,
    id: credential.id,
    publicKey: Buffer.from(credential.publicKey).toString('base64url'),
    counter: credential.counter,
    device,
  });
}

export async function removePasskey(db: Db, { academyId, id }: Owner, passkey: string): Promise<void> {
  await db
    .delete(passkeys)
    .where(and(eq(passkeys.academyId, academyId), eq(passkeys.coachId, id), eq(passkeys.id, passkey)));
}

/** What a passkey is to sign. */
export async function challengeFor(db: Db, request: Request) {
  const options = await generateAuthenticationOptions({
    rpID: here(request).rpID,
    userVerification: 'required',
  });
  await keep(db, options.challenge);
  return options;
}

/** Whose passkey has answered a challenge of ours. Throws a refusal where it is nobody's who may come in. */
export async function ownerBy(db: Db, request: Request, answered: unknown): Promise<Owner> {
  const response = answered as AuthenticationResponseJSON;
  const [known] = await db
    .select({
      academyId: passkeys.academyId,
      id: passkeys.coachId,
      key: passkeys.id,
      publicKey: passkeys.publicKey,
      counter: passkeys.counter,
    })
    .from(passkeys)
    .innerJoin(coaches, and(eq(coaches.academyId, passkeys.academyId), eq(coaches.id, passkeys.coachId)))
    .where(and(eq(passkeys.id, response.id), isNull(coaches.closedAt)));
  if (!known) throw refused();
  const { rpID, origin } = here(request);
  const { verified, authenticationInfo } = await verifyAuthenticationResponse({
    response,
    expectedChallenge: takenBack(db),
    expectedOrigin: origin,
    expectedRPID: rpID,
    credential: {
      id: known.key,
      publicKey: Buffer.from(known.publicKey, 'base64url'),
      counter: known.counter,
    },
  }).catch(() => ({ verified: false as const, authenticationInfo: undefined }));
  if (!verified || !authenticationInfo) throw refused();
  await db
    .update(passkeys)
    .set({ counter: authenticationInfo.newCounter })
    .where(and(eq(passkeys.academyId, known.academyId), eq(passkeys.id, known.key)));
  return { academyId: known.academyId, id: known.id };
}
