import { z } from 'zod';
import { EditionNumber, Id, Side } from '../breakdown';
import { SignOffBy, Unsure } from '../prescription';
import { FactId, Instant, Rung } from '../rep';
import { groupChanges, Members } from './groups';
import { Sides } from './turn';

/** In the order in which the coach walks; the first of a pair attacks first, and a third person rotates in. */
const Pairs = z
  .array(z.array(Id).min(1).max(3))
  .min(1)
  .max(40)
  .refine((pairs) => new Set(pairs.flat()).size === pairs.flat().length, {
    message: 'somebody is in two pairs',
  });

/**
 * A student's correction in a class: every rep of theirs at this rung or above counts towards its sign-off, after
 * those of earlier classes (`held`, in order). With the cue, the drill and where its reps start, for devices without a
 * network.
 */
export const WorksOn = z.object({
  checkpoint: Id,
  /** What is corrected there, which says how far a rep must go to tell of it. */
  mistake: Id.nullable().optional(),
  defence: Id.nullable().optional(),
  proof: SignOffBy.optional(),
  rung: Rung,
  cue: z.string().max(400).optional(),
  drill: z
    .object({ title: z.string().max(80), setUp: z.string().max(400), task: z.string().max(400) })
    .nullable()
    .optional(),
  startAt: Id.nullable().optional(),
  endAt: Id.nullable().optional(),
  /** Warnings that belong to it. */
  cautions: z.array(z.string().max(2000)).max(5).optional(),
  held: z.array(z.boolean()).max(60).optional(),
  sides: z.enum(['both', 'right', 'left']).optional(),
  /** The dose that was accepted. */
  sets: z.int().min(1).max(20).optional(),
  reps: z.int().min(1).max(100).optional(),
  minutes: z.int().min(1).max(300).optional(),
  /** It was signed off a while ago, and this class is to show whether it still holds. */
  recheck: z.boolean().optional(),
  /** Reps count that came after it; where it is not said, all of the session. */
  since: Instant.optional(),
});
export type WorksOn = z.infer<typeof WorksOn>;

/** Each student's correction in this class. */
export const Prescribed = WorksOn.extend({ student: Id });
export type Prescribed = z.infer<typeof Prescribed>;

/** The students whose next reps would teach most. */
export const WatchedStudent = Unsure.extend({ student: Id });
export type WatchedStudent = z.infer<typeof WatchedStudent>;

/** A drilling session as it was set up: who works with whom, on what, from where to where, and for how long. */
export const Session = z.object({
  id: FactId,
  technique: Id,
  edition: EditionNumber,
  startedAt: Instant,
  endedAt: Instant.nullable(),
  pairs: Pairs,
  rung: Rung,
  from: Id.nullable(),
  to: Id.nullable(),
  /** After this many reps on a side the side changes, then the roles; null lets the clock do it. */
  repsPerSide: z.int().min(1).max(50).nullable(),
  roundSeconds: z.int().min(30).max(3600),
  rounds: z.int().min(1).max(30).default(3),
  /** Between two rounds; with none, the next round waits for a press. */
  restSeconds: z.int().min(0).max(900).default(0),
  prescribed: z.array(Prescribed).max(120).default([]),
  watched: z.array(WatchedStudent).max(120).default([]),
  /** What is worn in this class, where the technique allows either; null if it is not recorded. */
  attire: z.enum(['gi', 'no-gi']).nullable().default(null),
});
export type Session = z.infer<typeof Session>;

/** The state of a round clock: the round, milliseconds of it already run, and since which instant it runs. */
export const RoundClock = z.object({
  round: z.int().min(1).max(99),
  ranMs: z.number().min(0),
  since: Instant.nullable(),
});
export type RoundClock = z.infer<typeof RoundClock>;

/** One pair, or null for everybody: all pairs of now, and those that are made later. */
const pairOrAll = Members.nullable();

/** The changes of a running session, and their words. */
const Setting = z.discriminatedUnion('is', [
  /** The whole list at once, as older devices sent it. */
  z.object({ is: z.literal('pairs'), pairs: Pairs }),
  ...groupChanges,
  /** How much the partners of a pair resist from now on. */
  z.object({ is: z.literal('rung'), pair: pairOrAll, rung: Rung }),
  /** Which sides a pair drills from now on. */
  z.object({ is: z.literal('sides'), pair: pairOrAll, sides: Sides }),
  /** The span that one pair drills from now on; both ends null is the whole. */
  z.object({
    is: z.literal('span'),
    pair: Members,
    from: Id.nullable(),
    to: Id.nullable(),
  }),
  /** Whose turn it is in a pair from now on; by the clock, in that half of that round. */
  z.object({
    is: z.literal('turn'),
    pair: Members,
    student: Id,
    partner: Id.nullable(),
    side: Side,
    during: z.object({ round: z.int().min(1).max(99), half: z.enum(['first', 'second']) }).nullable(),
  }),
  /** The ways that a pair uses from now on, where neither bodies nor attire decide. */
  z.object({ is: z.literal('ways'), pair: Members, ways: z.array(Id).max(60) }),
  /** The entry by which a pair's reps begin from now on; null is from the start position. */
  z.object({ is: z.literal('entry'), pair: Members, entry: Id.nullable() }),
  /** The partner's task in a pair from now on: each of these, or, if one is called, a random one for each rep. */
  z.object({
    is: z.literal('task'),
    pair: pairOrAll,
    task: z.array(Id).max(20),
    called: z.boolean(),
  }),
  /** A pair that went on to another technique with that rep drills that of the class again. */
  z.object({ is: z.literal('back'), pair: Members, rep: FactId }),
  /** A coach compared two reps that may be duplicates: the question does not come again. */
  z.object({ is: z.literal('settled'), pair: Members, reps: z.array(FactId).length(2) }),
  /** A student's correction from now on, decided during the class; null for none. */
  z.object({ is: z.literal('works'), about: Id, on: WorksOn.nullable() }),
  z.object({ is: z.literal('clock'), clock: RoundClock }),
  /** A coach's own words about one person in this session. They add up; none replaces another. */
  z.object({ is: z.literal('words'), about: Id, words: z.string().min(1).max(500) }),
  z.object({ is: z.literal('end') }),
  /** Undone: the class goes on. */
  z.object({ is: z.literal('go on') }),
]);

/**
 * A change of a running session, as a fact: two coaches who were offline are merged by union, the latest change of a
 * thing counts, and who made it stays known.
 */
export const SessionChange = z.object({
  id: FactId,
  session: FactId,
  at: Instant,
  observer: Id,
  set: Setting,
});
export type SessionChange = z.infer<typeof SessionChange>;
export type Setting = SessionChange['set'];
export type ChangeOf<K extends Setting['is']> = Extract<Setting, { is: K }>;

/**
 * The last class, to be repeated: of the sessions of the latest day the one with most people, the later one of equals.
 * Undefined where there is none.
 */
export function lastClass(sessions: readonly Session[]): Session | undefined {
  const day = (session: Session) => session.startedAt.slice(0, 10);
  const latest = [...sessions].sort((a, b) => Date.parse(b.startedAt) - Date.parse(a.startedAt));
  const people = ({ pairs }: Session) => pairs.flat().length;
  return latest
    .filter((session) => day(session) === day(latest[0]!))
    .reduce<Session | undefined>(
      (best, one) => (best && people(best) >= people(one) ? best : one),
      undefined,
    );
}
