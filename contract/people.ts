import { Id } from '@ulkret/core/breakdown';
import { eachList, kindOf } from '@ulkret/core/facts';
import { Student } from '@ulkret/core/people';
import { FactId, Instant } from '@ulkret/core/rep';
import { z } from 'zod';
import { define } from './define';

/** Whose eyes a note about a person is for: coaches, all who log (assistants too), or the person as well, on their card. */
export const notesSeenBy = ['coaches', 'all who log', 'them too'] as const;

/** What a coach has written down about a person. */
export const PersonNote = z.object({
  id: FactId,
  at: Instant,
  /** The coach who wrote it; `byName` is what they are called. */
  by: Id,
  byName: z.string(),
  words: z.string(),
  seenBy: z.enum(notesSeenBy),
});
export type PersonNote = z.infer<typeof PersonNote>;

const notes = z.object({ notes: z.array(PersonNote) });

/** All that is kept about one person, as they may ask for it. */
export const Everything = z.object({
  format: z.literal('ulkret.person/2'),
  student: Student,
  /** The classes in which they were paired. */
  sessions: z.array(z.object({ id: FactId, startedAt: Instant, technique: Id })),
  /** Every fact that says something about them, by kind. */
  facts: z.object(eachList((list) => z.array(kindOf(list).schema))),
  /** Coaches' notes about them, of every visibility. */
  notes: z.array(PersonNote.omit({ id: true })),
  links: z.array(z.object({ madeAt: Instant, expiresAt: Instant, openedAt: Instant.nullable() })),
  accounts: z.array(z.object({ name: z.string(), email: z.string() })),
});
export type Everything = z.infer<typeof Everything>;

/** The classes that somebody was in: paired, or with a rep. */
export const Attendance = z.object({
  /** The latest first. */
  sessions: z.array(
    z.object({
      id: FactId,
      startedAt: Instant,
      technique: Id,
      attacked: z.int().min(0),
      partnered: z.int().min(0),
    }),
  ),
  /** Reps of theirs, on either side, that came without a class or with one that is not here. */
  repsWithoutSession: z.int().min(0),
});
export type Attendance = z.infer<typeof Attendance>;

export const peopleEndpoints = {
  students: define({
    method: 'get',
    path: '/api/students',
    who: 'assistant',
    summary: 'The roster',
    output: () => z.object({ students: z.array(Student) }),
  }),
  saveStudent: define({
    method: 'put',
    path: '/api/students/:id',
    who: 'assistant',
    summary:
      'Add a student under an id made by the device, or change one; with `base`, the student as the edit began, only changed fields are saved',
    params: () => z.object({ id: Id }),
    body: () =>
      Student.extend({
        base: Student.optional(),
        /** Another student may have the same name: the caller knows. */
        namesake: z.boolean().optional(),
      }),
    output: () => Student,
    watched: { as: 'changed', about: 'id' },
  }),
  personNotes: define({
    method: 'get',
    path: '/api/students/:id/notes',
    who: 'assistant',
    summary: 'Notes about a person that the caller may see, latest first',
    params: () => z.object({ id: Id }),
    output: () => notes,
  }),
  savePersonNote: define({
    method: 'put',
    path: '/api/students/:id/notes/:note',
    who: 'coach',
    summary: 'Add a note about a person under an id made by the device, or change your own',
    params: () => z.object({ id: Id, note: FactId }),
    body: () =>
      z.object({
        words: z.string().trim().min(1, 'a note needs words').max(1000),
        seenBy: z.enum(notesSeenBy),
      }),
    output: () => notes,
    watched: { as: 'wrote a note about', about: 'id' },
  }),
  removePersonNote: define({
    method: 'delete',
    path: '/api/students/:id/notes/:note',
    who: 'coach',
    summary: 'Delete a note: your own, or any as head coach',
    params: () => z.object({ id: Id, note: FactId }),
    output: () => notes,
    watched: { as: 'took a note away about', about: 'id' },
  }),
  attendanceOf: define({
    method: 'get',
    path: '/api/students/:id/attendance',
    who: 'assistant',
    summary: 'A student’s classes, with how often they attacked and partnered',
    params: () => z.object({ id: Id }),
    output: () => Attendance,
    watched: { as: 'looked at', about: 'id' },
  }),
  everything: define({
    method: 'get',
    path: '/api/students/:id/everything',
    who: 'coach',
    summary: 'Everything about one person, for when they ask',
    params: () => z.object({ id: Id }),
    output: () => Everything,
    watched: { as: 'took out all about', about: 'id' },
  }),
  everythingToRead: define({
    method: 'get',
    path: '/api/students/:id/everything.html',
    who: 'coach',
    summary: 'The same as a page to read or print, without partners',
    params: () => z.object({ id: Id }),
    output: () => z.string(),
    outputType: 'text/html',
    watched: { as: 'took out all about', about: 'id' },
  }),
  mergeStudents: define({
    method: 'post',
    path: '/api/students/:id/merge',
    who: 'coach',
    summary:
      'Merge a student into `into`: everything that names this one names `into`. Refused if the two drilled with each other',
    params: () => z.object({ id: Id }),
    body: () => z.object({ into: Id }),
    output: () => Student,
    watched: { as: 'made one of two' },
  }),
  erase: define({
    method: 'delete',
    path: '/api/students/:id',
    who: 'head',
    summary: 'Erase a person everywhere, including backups. Their reps stay under an anonymous id',
    params: () => z.object({ id: Id }),
    output: () => z.object({ reps: z.int().min(0), backups: z.enum(['none', 'remade', 'not remade']) }),
    watched: { as: 'erased somebody' },
    again: true,
  }),
} as const;
