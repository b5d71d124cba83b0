import { z } from 'zod';
import { EditionNumber, Id, Side } from '../breakdown';

/** Resistance: 0 alone · 1 still partner · 2 moving partner with a scripted reaction · 3 positional sparring · 4 free sparring. */
export const Rung = z.union([z.literal(0), z.literal(1), z.literal(2), z.literal(3), z.literal(4)]);
export type Rung = z.infer<typeof Rung>;
export const rungs: readonly Rung[] = [0, 1, 2, 3, 4];
export const rungNames: Readonly<Record<Rung, string>> = {
  0: 'alone',
  1: 'still partner',
  2: 'moving partner',
  3: 'positional sparring',
  4: 'free sparring',
};

export const Source = z.enum(['mat', 'clip', 'import', 'paper']);
export type Source = z.infer<typeof Source>;

/** The id of a fact, made by the device that saw it. The Mat makes UUIDv7 (RFC 9562); any UUID is taken. */
export const FactId = z.uuid().toLowerCase();

const [earliest, latest] = ['2000-01-01T00:00:00Z', '2100-01-01T00:00:00Z'].map((text) => Date.parse(text));

/** The moment of a fact, as an ISO 8601 instant with its offset or Z, within the years that a class can have been in. */
export const Instant = z.iso.datetime({ offset: true }).refine((text) => {
  const at = Date.parse(text);
  return at >= earliest! && at < latest!;
}, 'it should be a moment between 2000 and 2100');

const told = {
  id: FactId,
  /** The drilling session it belongs to; null for a rep that came without one. */
  session: FactId.nullable(),
  at: Instant,
  technique: Id,
  edition: EditionNumber,
  student: Id,
  /** Null where nobody partnered, or nobody wrote down who. */
  partner: Id.nullable(),
  side: Side,
  rung: Rung,
  /** The span that was drilled, both ends included; null means the first and the last checkpoint. */
  from: Id.nullable(),
  to: Id.nullable(),
  /** Checkpoints that were shaky although the rep went on. */
  soft: z.array(Id).max(60),
  /** A mistake or a defence of the breakdown, or null where none was given. */
  cause: Id.nullable(),
  observer: Id,
  source: Source,
  note: z.string().max(500),
  /** The ways (variants) that were used. */
  ways: z.array(Id).max(60).optional(),
  /** The defences that the partner was told to play. */
  task: z.array(Id).max(20).optional(),
  /** What was measured at a checkpoint, in the unit of its tolerance. */
  measured: z
    .array(z.strictObject({ checkpoint: Id, value: z.number() }))
    .max(60)
    .optional(),
  /** Defences met on the way, and whether what was done about them worked; where it did not, the rep stops there. */
  met: z
    .array(
      z.strictObject({
        defence: Id,
        answer: Id.nullable(),
        worked: z.boolean(),
        /** The defence that it went on to be, where the answer did not end it. */
        became: Id.optional(),
      }),
    )
    .max(20)
    .optional(),
  /** The entry by which it began; where it is left out, from the start position. */
  entry: Id.optional(),
  /** Which of several finishes ended it. */
  finish: Id.optional(),
  /** Seconds from the checkpoint before to one that has a time, or from the one that it comes together with; 0 is at once. */
  timed: z
    .array(z.strictObject({ checkpoint: Id, seconds: z.number().min(0).max(600) }))
    .max(60)
    .optional(),
  /** The device that it was tapped on: one coach may have two in a class. */
  device: z.string().min(1).max(40).optional(),
  /** The rep that this one goes on from, and by which answer or exit; null where nobody said by which. */
  follows: z.strictObject({ rep: FactId, by: Id.nullable() }).optional(),
};

/** One attempt, as an immutable fact. A wrong one is voided, never edited. A field that is not known is refused, never dropped. */
export const Rep = z.discriminatedUnion('outcome', [
  /** Every checkpoint of the span held. */
  z.strictObject({ ...told, outcome: z.literal('finished') }),
  /** `stop` failed; what came before it in the span held; what comes after was not seen. */
  z.strictObject({ ...told, outcome: z.literal('stopped'), stop: Id }),
  /** It finished although these failed. */
  z.strictObject({ ...told, outcome: z.literal('forced'), failed: z.array(Id).min(1).max(60) }),
  /** Interrupted for another reason: what came up to `heldTo` held (null: nothing was seen), the rest was not seen. */
  z.strictObject({ ...told, outcome: z.literal('not judged'), heldTo: Id.nullable() }),
  /** Left for something else, by an exit or an answer: what came up to `heldTo` held (null: nothing was seen), the rest was not seen. */
  z.strictObject({ ...told, outcome: z.literal('left'), heldTo: Id.nullable(), by: Id.nullable() }),
]);
export type Rep = z.infer<typeof Rep>;
export type Outcome = Rep['outcome'];

/** Did it come to an end that counts: not one that was interrupted or left? */
export const isJudged = ({ outcome }: Pick<Rep, 'outcome'>): boolean =>
  outcome !== 'not judged' && outcome !== 'left';

/** Fields that some reps have and others have not. */
const ofSome = [
  'stop',
  'failed',
  'heldTo',
  'by',
  'ways',
  'task',
  'measured',
  'met',
  'entry',
  'finish',
  'timed',
  'device',
  'follows',
] as const;

/**
 * A rep as it is to be read: a field of another form that is null says nothing, as where a table has a column for it. Where
 * null is an answer (`heldTo` of a rep that was not judged, `by` of one that was left) it stays.
 */
export function withoutNothing(raw: unknown): unknown {
  if (raw === null || typeof raw !== 'object' || Array.isArray(raw)) return raw;
  const { outcome } = raw as { outcome?: unknown };
  const answers: readonly string[] =
    outcome === 'not judged' ? ['heldTo'] : outcome === 'left' ? ['heldTo', 'by'] : [];
  const nothing = new Set<string>(ofSome.filter((field) => !answers.includes(field)));
  return Object.fromEntries(
    Object.entries(raw).filter(([field, value]) => value !== null || !nothing.has(field)),
  );
}
