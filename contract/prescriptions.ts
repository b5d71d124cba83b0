import { Id } from '@ulkret/core/breakdown';
import { Drill } from '@ulkret/core/drills';
import { Life, Tells, Worked } from '@ulkret/core/prescription';
import { Instant } from '@ulkret/core/rep';
import { z } from 'zod';
import { define } from './define';

export const prescriptionsFormat = 'ulkret.prescriptions/1';

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

const which = { technique: Id.optional(), student: Id.optional() };
const told = z.record(z.string(), Tells);

export const prescriptionsEndpoints = {
  prescriptions: define({
    method: 'get',
    path: '/api/prescriptions',
    who: 'assistant',
    summary:
      'Every correction that was agreed to, of one technique or student or of all: its terms, its life, the reps since, and whether it worked',
    query: z.object(which),
    output: z.object({
      asOf: Instant,
      prescriptions: z.array(Followed),
      declined: z.array(Declined),
      /** Did it work, taken together: by drill, by cue, by who agreed to it. */
      tells: z.object({ drill: told, cue: told, coach: told }),
    }),
  }),
  exportPrescriptions: define({
    method: 'get',
    path: '/api/export/prescriptions.csv',
    who: 'assistant',
    summary: 'Every correction that was agreed to as CSV, a row each, with its counts before and after',
    query: z.object(which),
    output: z.string(),
    outputType: 'text/csv',
  }),
  exportWeeks: define({
    method: 'get',
    path: '/api/export/weeks.ics',
    who: 'assistant',
    summary:
      'One student’s weeks as iCalendar: what is worked on, and when what is signed off is looked at again; of nobody else',
    query: z.object({ student: Id }),
    output: z.string(),
    outputType: 'text/calendar',
  }),
  drills: define({
    method: 'get',
    path: '/api/drills',
    who: 'assistant',
    summary: 'The drills library: what ships, and what the academy has added, changed or retired',
    output: z.object({ drills: z.array(Drill) }),
  }),
  saveDrill: define({
    method: 'put',
    path: '/api/drills/:id',
    who: 'assistant',
    summary: 'Add a drill, change one, or retire it',
    params: z.object({ id: Id }),
    body: Drill,
    output: Drill,
  }),
} as const;
