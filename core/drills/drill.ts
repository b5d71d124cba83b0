import { z } from 'zod';
import { CheckpointKind, Id, Region } from '../breakdown';
import { Rung } from '../rep';

/** What a drill does with a point to make it hold. */
export const DrillKind = z.enum([
  'isolation',
  'segment',
  'constraint',
  'reaction',
  'progressive',
  'both sides',
  'weight and base',
  'grip endurance',
  'timed hold',
  'shadow',
  'defence',
]);
export type DrillKind = z.infer<typeof DrillKind>;

/** What a drill cannot be done without: it is not offered where the place, the rung or the span contradicts it. */
export const Need = z.enum(['free hands', 'one arm', 'still partner', 'a defence', 'failing on purpose']);
export type Need = z.infer<typeof Need>;

const words = z.string().max(400);

/** A checkpoint, mistake, defence or way of one technique's breakdown. */
const Part = z.object({ technique: Id, id: Id });

/** A way to practise one thing on its own: set-up, constraint, the partner's part, and how hard it may get. */
export const Drill = z.object({
  id: Id,
  title: z.string().trim().min(1, 'a drill needs a name').max(80),
  kind: DrillKind,
  /** What it trains: checkpoints of these kinds, or just these parts of a breakdown. */
  trains: z.object({
    kinds: z.array(CheckpointKind).max(5),
    /** The answers to a partner who defends, whatever the defence. */
    answers: z.boolean(),
    checkpoints: z.array(Part).max(40),
    mistakes: z.array(Part).max(40),
    defences: z.array(Part).max(40),
    ways: z.array(Part).max(40),
    /** Shared pieces of the library, in whichever technique. */
    pieces: z.array(Id).max(40).optional(),
  }),
  setUp: words,
  /** The constraint that makes the checkpoint hold on its own; empty if none. */
  constraint: words,
  cue: words,
  /** What the partner does, at which signal, how hard; empty where one drills alone. */
  task: words,
  rungs: z
    .object({ low: Rung, high: Rung })
    .refine(({ low, high }) => low <= high, 'the lowest rung is above the highest'),
  /** For one dose, both people together. */
  minutes: z.number().positive().max(30),
  people: z.int().min(1).max(4),
  /** Loads on the partner besides those of the technique. */
  loads: z.array(Region).max(9),
  caution: words,
  needs: z.array(Need).max(5).optional(),
  /** Where its reps end: at the checkpoint itself, or at the next one; see `endOf`. */
  ends: z.enum(['here', 'next', 'goes on']).optional(),
  /** What one can measure in it; empty where nothing. */
  measure: words,
  /** Kept for what was prescribed with it, and offered no more. */
  retired: z.boolean().default(false),
});
export type Drill = z.infer<typeof Drill>;

/** Where the reps of a drill end, where it does not say so: an isolation and a hold end where the checkpoint holds. */
export const endOf = ({ ends, kind }: Pick<Drill, 'ends' | 'kind'>): NonNullable<Drill['ends']> =>
  ends ?? (kind === 'isolation' || kind === 'timed hold' ? 'here' : 'goes on');
