import { randomUUID } from 'node:crypto';
import { endpoints, type SignedIn } from '@ulkret/contract';
import type { Request, Router } from 'express';
import { hashPassword, passwordFits } from '../access/secrets';
import type { Limits } from '../access/limits';
import { addPasskey, challengeFor, optionsFor, ownerBy, passkeysOf, removePasskey } from '../access/passkeys';
import { coachOf, deviceOf, hereHash, knownDevice, signIn, signOut } from '../access/sign-in';
import { addFirstAcademy, saveAcademy } from '../keeping/academies';
import {
  anyCoach,
  anyDemo,
  coachByEmail,
  coachById,
  passwordHashOf,
  proveAgain,
  savePassword,
  type SignedInCoach,
} from '../access/coaches';
import { devicesOf, signOutDevice } from '../access/devices';
import {
  accessOf,
  changeAccess,
  comeIn,
  invite,
  invitationsOf,
  invitedBy,
  withdraw,
} from '../access/invitations';
import { checkStrength } from '../access/password';
import { person } from '../people/roster';
import { rulesOf } from '../care/rules';
import { accessesOf, notableOf, writeDown } from '../trail/accesses';
import type { Db } from '../db/connect';
import { answer } from '../http/gate';
import { nobodyHere, notFound, Refused } from '../refused';
import type { Settings } from './settings';

/** Does this machine ask itself? Nobody else can come from such an address. */
const isHere = ({ ip = '' }: Request): boolean => /^(127\.|::1$|::ffff:127\.)/.test(ip);

const now = () => new Date().toISOString();

/** The signed-in coach and academy, as a device sees them. */
async function signedInAs(db: Db, { demoSignIn }: Settings, coach: SignedInCoach | null): Promise<SignedIn> {
  return {
    coach: coach && { id: coach.id, name: coach.name, role: coach.role },
    academy: coach && {
      id: coach.academyId,
      name: coach.academy,
      units: coach.units,
      zone: coach.zone,
      weekBegins: coach.weekBegins,
    },
    firstCoachWanted: !coach && !(await anyCoach(db)),
    closed: false,
    codeWanted: false,
    demoSignIn: !coach && demoSignIn && (await anyDemo(db)) ? demoSignIn : null,
  };
}

export function accessRoutes(router: Router, db: Db, settings: Settings, limits: Limits): void {
  signInRoutes(router, db, settings, limits);
  proofRoutes(router, db, limits);
  deviceRoutes(router, db);
  roleRoutes(router, db);
  invitationRoutes(router, db, settings, limits);
  firstCoachRoute(router, db, settings, limits);
}

function signInRoutes(router: Router, db: Db, settings: Settings, limits: Limits): void {
  const signedIn = (coach: SignedInCoach | null) => signedInAs(db, settings, coach);
  const current = async (request: Request): Promise<SignedIn> => {
    const told = await signedIn(await coachOf(db, request));
    return {
      ...told,
      // A browser sends no cookie that is over.
      closed: told.coach === null && hereHash(request) !== '',
      codeWanted: told.firstCoachWanted && settings.firstCode !== null && !isHere(request),
    };
  };

  answer(router, db, endpoints.session, (_, { request }) => current(request));

  answer(router, db, endpoints.signIn, async ({ body }, { request, response }) => {
    const found = await coachByEmail(db, body.email);
    const coach = await limits.signIn(request, body.email, knownDevice(request, found), async () => {
      if ((await passwordFits(body.password, found?.passwordHash ?? null)) && found) return found;
      if (found) await writeDown(db, found, 'failed to sign in');
      throw new Refused(401, 'Wrong email or password.', 'Check both and try again.');
    });
    await signIn(db, request, response, coach);
    await writeDown(db, coach, 'signed in');
    return signedIn(coach);
  });

  answer(router, db, endpoints.signInByPasskey, async ({ body }, { request, response }) => {
    const coach = await coachById(db, await ownerBy(db, request, body.passkey));
    if (!coach) throw nobodyHere();
    await signIn(db, request, response, coach);
    await writeDown(db, coach, 'signed in', null, 'by a passkey');
    return signedIn(coach);
  });
  answer(router, db, endpoints.challenge, (_, { request }) => challengeFor(db, request));

  answer(router, db, endpoints.saveAcademy, async ({ body }, { coach }) => {
    await saveAcademy(db, coach.academyId, body);
    const { units = coach.units, zone = coach.zone, weekBegins = coach.weekBegins } = body;
    return signedIn({ ...coach, units, zone, weekBegins });
  });

  answer(router, db, endpoints.signOut, async (_, { request, response }) => {
    await signOut(db, request, response);
    return signedIn(null);
  });

  answer(router, db, endpoints.changePassword, async ({ body }, { coach, request, response }) => {
    const { academyId, id } = coach;
    await limits.password(request, async () => {
      if (!(await passwordFits(body.old, await passwordHashOf(db, academyId, id))))
        throw new Refused(422, 'Wrong old password.', 'Check it and try again; nothing was changed.');
    });
    await checkStrength(body.password, [coach.name, coach.academy]);
    await savePassword(db, academyId, id, await hashPassword(body.password), hereHash(request));
    await writeDown(db, coach, 'set a new password');
    await signIn(db, request, response, coach);
    return signedIn(coach);
  });
}

function proofRoutes(router: Router, db: Db, limits: Limits): void {
  answer(router, db, endpoints.proof, () => Promise.resolve({}));
  answer(router, db, endpoints.prove, async ({ body }, { coach, request }) => {
    const { academyId, id } = coach;
    const wrong = (what: string) => new Refused(422, `Wrong ${what}.`, 'Try again; nothing was changed.');
    if (body.passkey !== undefined) {
      const owner = await ownerBy(db, request, body.passkey);
      if (owner.academyId !== academyId || owner.id !== id) throw wrong('passkey');
    } else
      await limits.password(request, async () => {
        if (!(await passwordFits(body.password ?? '', await passwordHashOf(db, academyId, id))))
          throw wrong('password');
      });
    await proveAgain(db, academyId, hereHash(request));
    return {};
  });
  const own = async (coach: SignedInCoach) => ({ passkeys: await passkeysOf(db, coach) });
  answer(router, db, endpoints.passkeys, (_, { coach }) => own(coach));
  answer(router, db, endpoints.passkeyOptions, (_, { coach, request }) => optionsFor(db, request, coach));
  answer(router, db, endpoints.addPasskey, async ({ body }, { coach, request }) => {
    await addPasskey(db, request, coach, deviceOf(request), body.made);
    await writeDown(db, coach, 'made a passkey');
    return own(coach);
  });
  answer(router, db, endpoints.removePasskey, async ({ params }, { coach }) => {
    await removePasskey(db, coach, params.id);
    await writeDown(db, coach, 'removed a passkey');
    return own(coach);
  });
}

function deviceRoutes(router: Router, db: Db): void {
  const devices = async ({ academyId, id }: SignedInCoach, request: Request) => ({
    devices: await devicesOf(db, academyId, id, hereHash(request)),
  });
  answer(router, db, endpoints.devices, (_, { coach, request }) => devices(coach, request));
  answer(router, db, endpoints.signOutDevice, async ({ params }, { coach, request }) => {
    await signOutDevice(db, coach.academyId, coach.id, hereHash(request), params.id);
    return devices(coach, request);
  });
  answer(router, db, endpoints.signOutEverywhere, async (_, { coach, request }) => {
    await signOutDevice(db, coach.academyId, coach.id, hereHash(request));
    await writeDown(db, coach, 'signed out other devices');
    return devices(coach, request);
  });
}

function roleRoutes(router: Router, db: Db): void {
  const whoMay = async (academyId: string) => ({
    people: await accessOf(db, academyId),
    invitations: await invitationsOf(db, academyId, now()),
  });
  answer(router, db, endpoints.access, (_, { coach }) => whoMay(coach.academyId));
  answer(router, db, endpoints.accesses, async ({ query }, { coach: { academyId } }) => {
    const { keep } = await rulesOf(db, academyId);
    return accessesOf(db, academyId, { ...query, months: keep.accessMonths });
  });
  answer(router, db, endpoints.notableAccesses, async (_, { coach: { academyId, id } }) => ({
    accesses: await notableOf(db, academyId, id),
  }));
  answer(router, db, endpoints.changeAccess, async ({ params, body }, { coach: { academyId, id: by } }) => {
    const told = await changeAccess(db, academyId, params.id, { ...body, by }, now());
    if (told === 'nobody') throw notFound(`"${params.id}" among those who may sign in`);
    if (told === 'last head')
      throw new Refused(
        409,
        'An academy needs a head coach.',
        'Make somebody else head coach first; nothing was changed.',
      );
    return whoMay(academyId);
  });
  answer(router, db, endpoints.invite, async ({ body }, { coach: { academyId, id } }) => {
    const { role, student, coach } = body;
    if (coach === null && (role === 'student') !== (student !== null))
      throw new Refused(
        400,
        'A student’s account needs a student of the roster; other accounts have none.',
        'Choose the student, or another role; nothing was changed.',
      );
    if (student !== null && !(await person(db, academyId, student)))
      throw notFound(`student "${student}" on the roster`);
    const made = await invite(db, academyId, { ...body, by: id, now: now() });
    if (made === 'not any more') throw nobodyHere();
    if (made === 'nobody') throw notFound(`"${body.coach}" among those who may sign in`);
    await writeDown(
      db,
      { academyId, id },
      'invited',
      student ?? body.coach,
      coach !== null ? 'with a new password' : student !== null ? '' : `${body.name} as ${role}`,
    );
    return made;
  });
  answer(router, db, endpoints.withdrawInvitation, async ({ params }, { coach: { academyId } }) => {
    await withdraw(db, academyId, params.id);
    return whoMay(academyId);
  });
}

function invitationRoutes(router: Router, db: Db, settings: Settings, limits: Limits): void {
  const opensNothing = () =>
    new Refused(404, 'This link is no longer valid.', 'Ask your head coach for a new one.');
  const opened = (request: Request, secret: string) =>
    limits.link(request, async () => {
      const found = await invitedBy(db, secret, now());
      if (!found) throw opensNothing();
      return found;
    });
  answer(router, db, endpoints.openInvitation, async ({ body }, { request }) => {
    const found = await opened(request, body.secret);
    const { academy, name, role, expiresAt, email } = found;
    return { academy, name, role, expiresAt, email };
  });
  answer(router, db, endpoints.acceptInvitation, async ({ body }, { request, response }) => {
    const { secret, name, email, password } = body;
    const found = await opened(request, secret);
    await checkStrength(password, [name, email, found.academy]);
    const passwordHash = await hashPassword(password);
    const made = await comeIn(db, secret, { name, email, passwordHash }, now());
    if (made === null) throw opensNothing();
    if (made === 'email')
      throw new Refused(409, 'That email is taken.', 'Use another one; the link still works.');
    await signIn(db, request, response, made);
    await writeDown(db, made, 'signed in', null, 'by a link');
    const coach = await coachById(db, made);
    return signedInAs(db, settings, coach);
  });
}

const firstIsHere = () =>
  new Refused(409, 'This instance has its first coach already.', 'Sign in, or ask that coach for access.');

function firstCoachRoute(router: Router, db: Db, settings: Settings, limits: Limits): void {
  const { firstCode, starter } = settings;
  answer(router, db, endpoints.firstCoach, async ({ body }, { request, response }) => {
    // Nothing costly before the door is known to be open.
    if (await anyCoach(db)) throw firstIsHere();
    await limits.code(async () => {
      if (firstCode !== null && !isHere(request) && body.code.trim().toUpperCase() !== firstCode)
        throw new Refused(
          403,
          'Wrong code.',
          'See the code on the machine that runs Ulkret, or open Ulkret there; nothing was changed.',
        );
    });
    await checkStrength(body.password, [body.name, body.email, body.academy]);
    const academyId = `a-${randomUUID()}`;
    const coach = {
      id: `c-${randomUUID()}`,
      name: body.name,
      email: body.email,
      passwordHash: await hashPassword(body.password),
      role: 'head' as const,
    };
    const made = await addFirstAcademy(
      db,
      { academyId, name: body.academy, zone: body.zone },
      coach,
      body.starter ? starter : [],
    );
    if (!made) throw firstIsHere();
    await signIn(db, request, response, { academyId, id: coach.id });
    return signedInAs(db, settings, {
      ...coach,
      academyId,
      academy: body.academy,
      units: 'kg and cm',
      zone: body.zone,
      weekBegins: 'monday',
      studentId: null,
    });
  });
}
