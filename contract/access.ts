import { Id } from '@ulkret/core/breakdown';
import { Units } from '@ulkret/core/people';
import { z } from 'zod';
import { define } from './define';
import { Zone } from './zone';

export const Coach = z.object({ id: Id, name: z.string(), role: z.enum(['head', 'assistant']) });
export type Coach = z.infer<typeof Coach>;

export const SignedIn = z.object({
  coach: Coach.nullable(),
  academy: z
    .object({
      id: Id,
      name: z.string(),
      units: Units.default('kg and cm'),
      /** Where the academy is: its days begin and end there, whatever a device thinks. */
      zone: Zone.default('UTC'),
    })
    .nullable(),
  /** True on an instance without any coach: the first one is asked for instead of a sign-in. */
  firstCoachWanted: z.boolean(),
  /** Shown on the sign-in page of a demo instance. */
  demoSignIn: z.object({ email: z.string(), password: z.string() }).nullable(),
});
export type SignedIn = z.infer<typeof SignedIn>;

export const accessEndpoints = {
  session: define({
    method: 'get',
    path: '/api/session',
    who: 'anyone',
    summary: 'Who is signed in',
    output: SignedIn,
  }),
  signIn: define({
    method: 'post',
    path: '/api/session',
    who: 'anyone',
    summary: 'Sign in; the answer sets an HttpOnly cookie',
    body: z.object({ email: z.string().trim().min(1).max(200), password: z.string().min(1).max(200) }),
    output: SignedIn,
  }),
  saveAcademy: define({
    method: 'put',
    path: '/api/academy',
    who: 'head',
    summary:
      'Change what holds for the whole academy: the units that people are measured in, and the time zone of its days',
    body: z
      .object({ units: Units, zone: Zone })
      .partial()
      .refine((set) => Object.keys(set).length > 0, { error: 'it should say what to change' }),
    output: SignedIn,
  }),
  signOut: define({
    method: 'delete',
    path: '/api/session',
    who: 'anyone',
    summary: 'Sign out on this device',
    output: SignedIn,
  }),
  firstCoach: define({
    method: 'post',
    path: '/api/coaches/first',
    who: 'anyone',
    summary: 'Make the first academy and its head coach; refused once there is one',
    body: z.object({
      academy: z.string().trim().min(1, 'the academy needs a name').max(80),
      name: z.string().trim().min(1, 'your name is needed').max(80),
      email: z.email('that is not an email address').max(200),
      password: z.string().min(10, 'a password needs ten characters or more').max(200),
      starter: z.boolean(),
      zone: Zone.default('UTC'),
    }),
    output: SignedIn,
  }),
} as const;
