import { Breakdown, Id, Technique } from '@ulkret/core/breakdown';
import { CareNote, RuleSet } from '@ulkret/core/care';
import { Student } from '@ulkret/core/people';
import { FactId } from '@ulkret/core/rep';
import { Session } from '@ulkret/core/session';
import { z } from 'zod';
import { define } from './define';
import { Rep } from '@ulkret/core/rep';
import { Void } from '@ulkret/core/facts';
import { FactsByList } from './facts';

export const SessionRow = z.object({ session: Session, reps: z.int(), students: z.int() });
export type SessionRow = z.infer<typeof SessionRow>;

/** What a device needs on the Mat, whether there is a network or not. */
export const Kit = z.object({
  techniques: z.array(z.object({ technique: Technique, breakdown: Breakdown })),
  students: z.array(Student),
  /** The house's. */
  rules: RuleSet,
  /** Stops for safety that still keep somebody off something. */
  notes: z.array(CareNote),
  /** The latest first. */
  sessions: z.array(Session),
  /** The coaches, to name who logged what. */
  coaches: z.array(z.object({ id: Id, name: z.string() })).default([]),
});
export type Kit = z.infer<typeof Kit>;

export const classEndpoints = {
  sessions: define({
    method: 'get',
    path: '/api/sessions',
    who: 'assistant',
    summary: 'Classes, latest first, at most sixty',
    output: () => z.object({ sessions: z.array(SessionRow) }),
  }),
  drillingSession: define({
    method: 'get',
    path: '/api/sessions/:id',
    who: 'assistant',
    summary: 'One class with all its facts',
    params: () => z.object({ id: FactId }),
    output: () => z.object({ session: Session, facts: FactsByList }),
  }),
  dayReps: define({
    method: 'get',
    path: '/api/day',
    who: 'assistant',
    summary:
      'The reps of all classes that began in the last day and a half, with their voids, for the daily caps',
    output: () => z.object({ reps: z.array(Rep), voids: z.array(Void) }),
  }),
  saveSession: define({
    method: 'put',
    path: '/api/sessions/:id',
    who: 'assistant',
    summary: 'Save a class under the id the device gave it; later changes are facts of their own',
    params: () => z.object({ id: FactId }),
    body: () => Session,
    output: () => Session,
  }),
  kit: define({
    method: 'get',
    path: '/api/kit',
    who: 'assistant',
    summary:
      'What a device needs to run classes without a network: techniques with their latest edition, the roster, care notes, and the last classes',
    output: () => Kit,
  }),
} as const;
