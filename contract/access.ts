import { Id } from '@ulkret/core/breakdown';
import { Units } from '@ulkret/core/people';
import { Weekday } from '@ulkret/core/reading';
import { FactId, Instant } from '@ulkret/core/rep';
import { z } from 'zod';
import { define, Role } from './define';
import { Zone } from './zone';

export const Coach = z.object({ id: Id, name: z.string(), role: Role });
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
      /** The weekday on which its weeks begin. */
      weekBegins: Weekday.default('monday'),
    })
    .nullable(),
  /** This device was signed out by somebody else, or by a new password: it forgets what it holds. */
  closed: z.boolean().default(false),
  /** True on an instance without any coach: the first one is asked for instead of a sign-in. */
  firstCoachWanted: z.boolean(),
  /** A code printed by the start command is required: the caller is on another machine. */
  codeWanted: z.boolean().default(false),
  /** Shown on the sign-in page of a demo instance. */
  demoSignIn: z.object({ email: z.string(), password: z.string() }).nullable(),
});
export type SignedIn = z.infer<typeof SignedIn>;

/** Long enough to make guessing slow; its strength is judged as well. */
const password = z.string().min(10, 'a password needs ten characters or more').max(200);

/** Somebody who may sign in, or might once. */
export const Access = z.object({
  id: Id,
  name: z.string(),
  email: z.string(),
  role: Role,
  /** The student whose card this sign-in sees. */
  student: Id.nullable(),
  /** Since when they may not sign in any more. */
  closedAt: Instant.nullable(),
  seenAt: Instant.nullable(),
});
export type Access = z.infer<typeof Access>;

/** An entry of the access log. */
const AccessEntry = z.object({
  id: FactId,
  at: Instant,
  /** Their names. */
  by: z.string(),
  what: z.string(),
  about: z.string().nullable(),
  /** What changed, from what to what. */
  words: z.string(),
});

/** A link that lets somebody in, once. */
export const Invitation = z.object({
  id: FactId,
  role: Role,
  name: z.string(),
  student: Id.nullable(),
  /** Whom it lets back in with a new password; null where it lets somebody new in. */
  coach: Id.nullable().default(null),
  by: Id,
  expiresAt: Instant,
});
export type Invitation = z.infer<typeof Invitation>;

/** A device on which somebody is signed in. */
export const Device = z.object({
  id: FactId,
  device: z.string(),
  openedAt: Instant,
  seenAt: Instant,
  /** Is it the one that asks? */
  here: z.boolean(),
});
export type Device = z.infer<typeof Device>;

const devices = z.object({ devices: z.array(Device) });
const whoMay = z.object({ people: z.array(Access), invitations: z.array(Invitation) });
const secret = z.string().min(1).max(200);

/** Days an invitation stays open. */
export const invitationDays = 7;

/** A passkey of one's own. */
export const Passkey = z.object({ id: z.string(), device: z.string(), madeAt: Instant });
export type Passkey = z.infer<typeof Passkey>;
const passkeys = z.object({ passkeys: z.array(Passkey) });
/** What a browser answers to a challenge, as Web Authentication has it; the server verifies it. */
const Answered = z
  .looseObject({ id: z.string().min(1).max(2000), response: z.looseObject({}) })
  .transform((answered): unknown => answered);

export const accessEndpoints = {
  proof: define({
    method: 'get',
    path: '/api/session/proof',
    who: 'everybody',
    summary: 'Has the caller proved who they are within the last quarter of an hour? Refused where not',
    again: true,
    output: () => z.object({}),
  }),
  prove: define({
    method: 'post',
    path: '/api/session/proof',
    who: 'everybody',
    summary: 'Prove again who you are, by password or passkey',
    body: () => z.object({ password: z.string().max(200).optional(), passkey: Answered.optional() }),
    output: () => z.object({}),
  }),
  passkeys: define({
    method: 'get',
    path: '/api/passkeys',
    who: 'everybody',
    summary: 'Your passkeys',
    output: () => passkeys,
  }),
  passkeyOptions: define({
    method: 'post',
    path: '/api/passkeys/options',
    who: 'everybody',
    summary: 'What a browser needs to make a passkey',
    again: true,
    output: () => z.unknown(),
  }),
  addPasskey: define({
    method: 'post',
    path: '/api/passkeys',
    who: 'everybody',
    summary: 'Keep a passkey that a browser has made',
    again: true,
    body: () => z.object({ made: Answered }),
    output: () => passkeys,
  }),
  removePasskey: define({
    method: 'delete',
    path: '/api/passkeys/:id',
    who: 'everybody',
    summary: 'Remove a passkey',
    params: () => z.object({ id: z.string().min(1).max(2000) }),
    output: () => passkeys,
  }),
  challenge: define({
    method: 'post',
    path: '/api/session/challenge',
    who: 'anyone',
    summary: 'What a passkey is to sign, once and within five minutes',
    output: () => z.unknown(),
  }),
  signInByPasskey: define({
    method: 'post',
    path: '/api/session/passkey',
    who: 'anyone',
    summary: 'Sign in by a passkey',
    body: () => z.object({ passkey: Answered }),
    output: () => SignedIn,
  }),
  session: define({
    method: 'get',
    path: '/api/session',
    who: 'anyone',
    summary: 'Who is signed in',
    output: () => SignedIn,
  }),
  signIn: define({
    method: 'post',
    path: '/api/session',
    who: 'anyone',
    summary: 'Sign in; the answer sets an HttpOnly cookie',
    body: () => z.object({ email: z.string().trim().min(1).max(200), password: z.string().min(1).max(200) }),
    output: () => SignedIn,
  }),
  saveAcademy: define({
    method: 'put',
    path: '/api/academy',
    who: 'head',
    summary: 'Change settings of the whole academy: units, time zone, and the weekday on which weeks begin',
    body: () =>
      z
        .object({ units: Units, zone: Zone, weekBegins: Weekday })
        .partial()
        .refine((set) => Object.keys(set).length > 0, { error: 'say what to change' }),
    output: () => SignedIn,
  }),
  signOut: define({
    method: 'delete',
    path: '/api/session',
    who: 'anyone',
    summary: 'Sign out on this device',
    output: () => SignedIn,
  }),
  firstCoach: define({
    method: 'post',
    path: '/api/coaches/first',
    who: 'anyone',
    summary: 'Make the first academy and its head coach; refused once there is one',
    body: () =>
      z.object({
        academy: z.string().trim().min(1, 'the academy needs a name').max(80),
        name: z.string().trim().min(1, 'your name is needed').max(80),
        email: z.email('not an email address').max(200),
        password,
        starter: z.boolean(),
        zone: Zone.default('UTC'),
        /** Needed from another machine than the one that Ulkret runs on. */
        code: z.string().max(40).default(''),
      }),
    output: () => SignedIn,
  }),
  changePassword: define({
    method: 'post',
    path: '/api/password',
    who: 'everybody',
    summary: 'Change your own password; all your other devices are signed out',
    body: () => z.object({ old: z.string().min(1).max(200), password }),
    output: () => SignedIn,
  }),
  devices: define({
    method: 'get',
    path: '/api/devices',
    who: 'everybody',
    summary: 'Your signed-in devices',
    output: () => devices,
  }),
  signOutDevice: define({
    method: 'delete',
    path: '/api/devices/:id',
    who: 'everybody',
    summary: 'Sign out one of your other devices',
    params: () => z.object({ id: FactId }),
    output: () => devices,
  }),
  signOutEverywhere: define({
    method: 'delete',
    path: '/api/devices',
    who: 'everybody',
    summary: 'Sign out all your other devices',
    output: () => devices,
  }),
  access: define({
    method: 'get',
    path: '/api/access',
    who: 'head',
    summary: 'Who may sign in, in which role, and open invitations',
    output: () => whoMay,
  }),
  accesses: define({
    method: 'get',
    path: '/api/accesses',
    who: 'head',
    summary: 'The access log, latest first, a page at a time; kept as long as the rules say',
    /** `before` is the last one of the page before. */
    query: () => z.object({ before: FactId.optional(), about: Id.optional() }),
    output: () =>
      z.object({
        accesses: z.array(AccessEntry),
        more: z.boolean(),
        /** Is every entry as it was written, and none missing in between? */
        whole: z.boolean(),
      }),
  }),
  notableAccesses: define({
    method: 'get',
    path: '/api/accesses/notable',
    who: 'head',
    summary: 'What others took out, opened or closed in the last seven days, and who failed to sign in',
    output: () => z.object({ accesses: z.array(AccessEntry) }),
  }),
  changeAccess: define({
    method: 'put',
    path: '/api/access/:id',
    who: 'head',
    summary: 'Change somebody’s role, or block or restore their access; blocking signs them out everywhere',
    again: true,
    params: () => z.object({ id: Id }),
    body: () => z.object({ role: Role, open: z.boolean() }),
    output: () => whoMay,
  }),
  invite: define({
    method: 'post',
    path: '/api/invitations',
    who: 'head',
    summary: 'Make an invitation link for a role, used once; shown once, only its hash is kept',
    body: () =>
      z.object({
        role: Role,
        name: z.string().trim().min(1, 'say whom it is for').max(80),
        student: Id.nullable().default(null),
        /** Somebody who may or might sign in: they choose a new password, and keep their name, email and role. */
        coach: Id.nullable().default(null),
      }),
    output: () => Invitation.extend({ secret: z.string() }),
  }),
  withdrawInvitation: define({
    method: 'delete',
    path: '/api/invitations/:id',
    who: 'head',
    summary: 'Revoke an invitation',
    params: () => z.object({ id: FactId }),
    output: () => whoMay,
  }),
  openInvitation: define({
    method: 'post',
    path: '/api/invitations/open',
    who: 'anyone',
    summary: 'The invitation of a link, by its secret; sent in the body, so that no address keeps it',
    body: () => z.object({ secret }),
    output: () =>
      z.object({
        academy: z.string(),
        name: z.string(),
        role: Role,
        expiresAt: Instant,
        /** The email of a person it lets back in; null for somebody new. */
        email: z.string().nullable(),
      }),
  }),
  acceptInvitation: define({
    method: 'post',
    path: '/api/invitations/accept',
    who: 'anyone',
    summary: 'Accept an invitation with an email and a password; it is used up, and you are signed in',
    body: () =>
      z.object({
        secret,
        name: z.string().trim().min(1, 'your name is needed').max(80),
        email: z.email('not an email address').max(200),
        password,
      }),
    output: () => SignedIn,
  }),
} as const;
