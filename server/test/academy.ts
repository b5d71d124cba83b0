import type { Express } from 'express';
import { newStudent, type Student } from '@ulkret/core/people';
import supertest from 'supertest';
import { plainBreakdown } from '../../core/test';
import { hashPassword } from '../access/secrets';
import { loadAcademy } from '../keeping/academies';
import type { Db } from '../db/connect';
import { takeFacts } from '../intake/take';
import { Reader } from '../readings/read';
import { transfersHere } from '../transfers/transfers';
import type { Settings } from '../routes/settings';

export const password = 'tap-early-tap-often';
const passwordHash = hashPassword(password);

export const aStudent = (id: string, fields: Partial<Student> = {}): Student =>
  newStudent({ id, name: id[0]!.toUpperCase() + id.slice(1), experienceMonths: 12, ...fields });

export const testTechnique = {
  id: 'test-lock',
  name: 'Test lock',
  aliases: [],
  kind: 'submission' as const,
  attire: 'either' as const,
  startPosition: 'Guard',
  mechanism: 'rotation' as const,
  regions: ['shoulder' as const],
  ruleTags: [],
  loadSpeed: 'slow' as const,
  safetyNote: 'Slowly.',
};

/** An academy with a coach called `coach`, the students of core/test, and the five-point test lock. */
export async function anAcademy(db: Db, id: string): Promise<void> {
  await loadAcademy(
    db,
    {
      academy: { id, name: `Academy ${id}`, zone: 'UTC' },
      coaches: [
        {
          id: 'coach',
          name: 'Coach',
          email: `coach@${id}.example`,
          passwordHash: await passwordHash,
          role: 'head',
        },
      ],
      students: ['ada', 'ben', 'cleo', 'dan'].map((name) => aStudent(name)),
      techniques: [{ technique: testTechnique, editions: [plainBreakdown(5)] }],
      sessions: [],
      facts: {},
    },
    false,
  );
}

/** Takes facts as a file of a whole academy brings them, by any observer. */
export const takeAll = (db: Db, academyId: string, batch: Parameters<typeof takeFacts>[2]) =>
  takeFacts(db, academyId, batch, { id: 'coach', decides: true, forOthers: true });

/** What a server is started with in a test: the API alone, with readings made in this process. */
export const settingsOf = (db: Db, fields: Partial<Settings> = {}): Settings => ({
  version: 'test',
  webRoot: null,
  demoSignIn: null,
  firstCode: null,
  trustProxy: false,
  security: null,
  looks: null,
  whatIsWrong: () => null,
  starter: [],
  log: null,
  live: null,
  keeper: null,
  readings: new Reader(db),
  transfers: transfersHere(db),
  ...fields,
});

/** A client that is signed in as the coach of an academy. */
export async function signedIn(app: Express, academy: string) {
  const agent = supertest.agent(app);
  await agent
    .post('/api/session')
    .send({ email: `coach@${academy}.example`, password })
    .expect(200);
  return agent;
}

/** The cookie of that coach, or of somebody else there, for requests to a listening server. */
export async function signInCookie(url: string, academy: string, who = 'coach'): Promise<string> {
  const { headers } = await fetch(`${url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email: `${who}@${academy}.example`, password }),
  });
  return headers.get('set-cookie')!.split(';')[0]!;
}
