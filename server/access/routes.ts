import { randomUUID } from 'node:crypto';
import { endpoints, type SignedIn } from '@ulkret/contract';
import type { Request, Router } from 'express';
import { hashPassword, passwordFits } from './secrets';
import { coachOf, signIn, signOut } from './sign-in';
import { addFirstAcademy } from '../keeping/academies';
import { anyCoach, anyDemo, coachByEmail, saveAcademy, type SignedInCoach } from './coaches';
import type { Db } from '../db/connect';
import { answer, Refused } from '../http';
import type { Settings } from '../settings';

export function accessRoutes(router: Router, db: Db, { demoSignIn, starter }: Settings): void {
  const signedIn = async (coach: SignedInCoach | null): Promise<SignedIn> => ({
    coach: coach && { id: coach.id, name: coach.name, role: coach.role },
    academy: coach && { id: coach.academyId, name: coach.academy, units: coach.units, zone: coach.zone },
    firstCoachWanted: !coach && !(await anyCoach(db)),
    demoSignIn: !coach && demoSignIn && (await anyDemo(db)) ? demoSignIn : null,
  });
  const current = async (request: Request) => signedIn(await coachOf(db, request));

  answer(router, db, endpoints.session, (_, { request }) => current(request));

  answer(router, db, endpoints.signIn, async ({ body }, { request, response }) => {
    const coach = await coachByEmail(db, body.email);
    if (!(await passwordFits(body.password, coach?.passwordHash ?? null)) || !coach)
      throw new Refused(401, 'Wrong email or password.', 'Check both and try again.');
    await signIn(db, request, response, coach);
    return signedIn(coach);
  });

  answer(router, db, endpoints.saveAcademy, async ({ body }, { coach }) => {
    await saveAcademy(db, coach.academyId, body);
    const { units = coach.units, zone = coach.zone } = body;
    return signedIn({ ...coach, units, zone });
  });

  answer(router, db, endpoints.signOut, async (_, { request, response }) => {
    await signOut(db, request, response);
    return signedIn(null);
  });

  answer(router, db, endpoints.firstCoach, async ({ body }, { request, response }) => {
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
    if (!made)
      throw new Refused(
        409,
        'This instance has its first coach already.',
        'Sign in, or ask that coach for access.',
      );
    await signIn(db, request, response, { academyId, id: coach.id });
    return signedIn({ ...coach, academyId, academy: body.academy, units: 'kg and cm', zone: body.zone });
  });
}
