import { Id } from '@ulkret/core/breakdown';
import { Drill } from '@ulkret/core/drills';
import { Card, Life, Tells, Worked } from '@ulkret/core/prescription';
import { FactId, Instant } from '@ulkret/core/rep';
import { z } from 'zod';
import { define } from './define';
import { PersonNote } from './people';

/** A prescription with what became of it. */
export const Followed = z.object({ life: Life, worked: Worked });
export type Followed = z.infer<typeof Followed>;

/** A correction that a coach would not have at present. */
export const Declined = z.object({
  student: Id,
  technique: Id,
  checkpoint: Id,
  until: Instant,
  reason: z.string(),
  by: Id,
});
export type Declined = z.infer<typeof Declined>;

/** A link that opens one student's card to anyone who has it, until it expires or a coach revokes it. */
export const CardLink = z.object({
  id: FactId,
  /** The name of the coach who made it. */
  madeBy: z.string(),
  madeAt: Instant,
  expiresAt: Instant,
  /** When it was last opened; null where it never was. */
  openedAt: Instant.nullable(),
});
export type CardLink = z.infer<typeof CardLink>;

/** A card as its student reads it: with the academy's name, and what coaches have written for them to see, the latest first. */
export const StudentsCard = Card.extend({
  academy: z.string(),
  words: z.array(PersonNote.pick({ at: true, byName: true, words: true })),
});
export type StudentsCard = z.infer<typeof StudentsCard>;

/** For how many days a link may open a card. */
export const cardLinkDays = [7, 30, 90] as const;

const which = { technique: Id.optional(), student: Id.optional() };
const told = z.record(z.string(), Tells);

export const prescriptionsEndpoints = {
  prescriptions: define({
    method: 'get',
    path: '/api/prescriptions',
    who: 'assistant',
    summary:
      'Every accepted correction, of one technique or student or of all: its terms, its steps, the reps since, and its result',
    query: () => z.object(which),
    output: () =>
      z.object({
        asOf: Instant,
        prescriptions: z.array(Followed),
        declined: z.array(Declined),
        /** The coaches who decide here, by name. */
        coaches: z.array(z.object({ id: Id, name: z.string() })),
        /** Did it work, taken together: by drill, by cue, by who agreed to it. */
        tells: z.object({ drill: told, cue: told, coach: told }),
      }),
  }),
  exportPrescriptions: define({
    method: 'get',
    path: '/api/export/prescriptions.csv',
    who: 'coach',
    summary: 'Every accepted correction as CSV, one row each, with counts before and after',
    query: () => z.object(which),
    output: () => z.string(),
    outputType: 'text/csv',
  }),
  exportWeeks: define({
    method: 'get',
    path: '/api/export/weeks.ics',
    who: 'coach',
    summary: 'One student’s weeks as iCalendar: corrections and rechecks',
    query: () => z.object({ student: Id }),
    output: () => z.string(),
    outputType: 'text/calendar',
  }),
  cardLinks: define({
    method: 'get',
    path: '/api/students/:id/cards',
    who: 'coach',
    summary: 'Valid links to a student’s card',
    params: () => z.object({ id: Id }),
    output: () => z.object({ links: z.array(CardLink) }),
  }),
  makeCardLink: define({
    method: 'post',
    path: '/api/students/:id/cards',
    who: 'coach',
    summary: 'Make a link to a student’s card; shown once, only its hash is kept',
    params: () => z.object({ id: Id }),
    body: () => z.object({ days: z.literal(cardLinkDays) }),
    watched: { as: 'made a link to the card of', about: 'id' },
    output: () => CardLink.extend({ secret: z.string() }),
  }),
  revokeCardLink: define({
    method: 'delete',
    path: '/api/students/:id/cards/:link',
    who: 'coach',
    summary: 'Revoke a link to a student’s card',
    params: () => z.object({ id: Id, link: FactId }),
    output: () => z.object({ links: z.array(CardLink) }),
  }),
  openCard: define({
    method: 'post',
    path: '/api/cards',
    who: 'anyone',
    summary:
      'A student’s card, by the secret of a link; sent in the body, so that no log and no address keeps it',
    body: () => z.object({ secret: z.string().min(1).max(200) }),
    output: () => StudentsCard.extend({ expiresAt: Instant }),
  }),
  ownCard: define({
    method: 'get',
    path: '/api/card',
    who: 'student',
    summary: 'The card of the signed-in student',
    output: () => StudentsCard,
  }),
  drills: define({
    method: 'get',
    path: '/api/drills',
    who: 'assistant',
    summary: 'The drills: shipped ones, and those the academy added, changed or archived',
    output: () => z.object({ drills: z.array(Drill) }),
  }),
  saveDrill: define({
    method: 'put',
    path: '/api/drills/:id',
    who: 'coach',
    summary: 'Add, change or archive a drill',
    params: () => z.object({ id: Id }),
    body: () => Drill,
    output: () => Drill,
  }),
} as const;
