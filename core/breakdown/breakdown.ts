import { z } from 'zod';
import { Day, EditionNumber, Id } from './ids';
import { Proof, text, Tolerance } from './proof';
import { Attire, RuleTag } from './technique';

/** The five kinds of checkpoint, in the order in which they usually stand. */
export const CheckpointKind = z.enum(['base', 'grip', 'angle', 'pressure', 'finish']);
export type CheckpointKind = z.infer<typeof CheckpointKind>;

const title = z.string().max(60);

/** What a way can ask of two bodies: of the one who attacks, of the partner, or of both as a margin (cm) or a ratio (partner to student). */
export const BodyFact = z.enum([
  'reach margin',
  'partner mass ratio',
  'stature ratio',
  'hip mobility',
  'wrist mobility',
  'shoulder mobility',
  'leg length',
  'hand length',
  'grade',
  'partner hip mobility',
  'partner wrist mobility',
  'partner shoulder mobility',
]);
export type BodyFact = z.infer<typeof BodyFact>;
/** Facts that are low, middle or high, and no number. */
export const mobilities: ReadonlySet<BodyFact> = new Set([
  'hip mobility',
  'wrist mobility',
  'shoulder mobility',
  'partner hip mobility',
  'partner wrist mobility',
  'partner shoulder mobility',
]);

/** When a variant replaces its checkpoint's text: a school, an attire, or measured facts of the two bodies. */
export const When = z.discriminatedUnion('on', [
  z.object({ on: z.literal('school'), school: text }),
  z.object({ on: z.literal('attire'), attire: Attire }),
  z.object({
    on: z.literal('body'),
    fact: BodyFact,
    is: z.enum(['<', '>', '=']),
    value: z.union([z.number(), z.enum(['low', 'middle', 'high'])]),
  }),
  /** A named situation, such as a stated exception to a rule. */
  z.object({ on: z.literal('situation'), situation: text }),
]);
export type When = z.infer<typeof When>;

/** Another way to meet a checkpoint: it replaces what it names when its condition holds. */
export const Variant = z.object({
  id: Id,
  name: text,
  when: When,
  criterion: text.optional(),
  proofs: z.array(Proof).max(40).optional(),
  tolerance: Tolerance.optional(),
  /** A warning that belongs to this way alone. */
  caution: text.optional(),
  /** Rule tags that this way has and the technique has not. */
  ruleTags: z.array(RuleTag).max(100).optional(),
});
export type Variant = z.infer<typeof Variant>;

/** One thing that must become true. Its id lives through every edition, so old reps keep counting. */
export const Checkpoint = z.object({
  id: Id,
  kind: CheckpointKind,
  title,
  /** One statement that is true or false. */
  criterion: text,
  proofs: z.array(Proof).max(40),
  tolerance: Tolerance.optional(),
  /** Checkpoints that must hold before this one. */
  after: z.array(Id).max(60),
  /** Another checkpoint that becomes true at the same moment. */
  together: Id.optional(),
  /** Seconds from the one before within which it must become true. */
  withinSeconds: z.number().positive().max(600).optional(),
  /** The coach's share of the whole, 0–100; the shares of a breakdown sum to 100. */
  belief: z.number().min(0).max(100),
  window: z.object({ opens: text, closes: text }).optional(),
  /** Whether it can be repaired without starting over, and from which checkpoint one goes on. */
  mendable: z
    .object({
      backTo: Id,
      /** What it costs to repair it, such as a grip or a moment that the partner gets. */
      price: text.optional(),
    })
    .nullable(),
  variants: z.array(Variant).max(60),
  /** A warning that belongs to this moment. */
  caution: text.optional(),
  /** The piece of the library that it is a case of. */
  piece: Id.optional(),
});
export type Checkpoint = z.infer<typeof Checkpoint>;

/** A usual way to break a checkpoint (`at`, the symptom); `root` is the same or an earlier one. */
export const Mistake = z.object({
  id: Id,
  at: Id,
  root: Id,
  title,
  seen: text,
  believes: text,
  breaks: text,
  cue: text,
  drills: z.array(text).max(100),
  /** How often it is the cause at its checkpoint, relative to the others there. */
  priorShare: z.number().positive().max(1_000_000).default(1),
});
export type Mistake = z.infer<typeof Mistake>;

/** Kept through editions, so that a rep can say which answer was tried; see `answersOf` for those that were written without. */
const answerId = { id: Id.optional() };

export const Answer = z.discriminatedUnion('do', [
  z.object({ ...answerId, do: z.literal('mend'), at: Id, how: text, bait: z.boolean().default(false) }),
  z.object({
    ...answerId,
    do: z.literal('switch'),
    technique: Id,
    enteredAt: Id.optional(),
    /** The other technique is done on the other side: the loop that changes sides. */
    otherSide: z.boolean().optional(),
    how: text,
    bait: z.boolean().default(false),
  }),
  z.object({
    ...answerId,
    do: z.literal('retreat'),
    to: text,
    how: text,
    bait: z.boolean().default(false),
  }),
]);

export type Answer = z.infer<typeof Answer>;

/** Where something leaves the two, and who is ahead there. */
const Left = z.object({ position: text, ahead: z.enum(['attacker', 'neither', 'partner']) });

/** What the partner does about it, from the moment checkpoint `opens` is reached until `closes` holds. */
export const Defence = z.object({
  id: Id,
  opens: Id,
  closes: Id,
  underLoadOnly: z.boolean(),
  type: z.enum(['prevention', 'counter', 'escape', 'last ditch']),
  title,
  signal: text,
  brokenDownIn: Id.optional(),
  /** The defence that this one turns into when it is continued, such as a prevention that becomes a counter. */
  becomes: Id.optional(),
  leaves: Left,
  answers: z.array(Answer).max(60),
  /** The task for a partner who plays it on purpose: what to do, at which signal, how hard. */
  task: text.optional(),
  priorShare: z.number().positive().max(1_000_000).default(1),
});
export type Defence = z.infer<typeof Defence>;

/** Another situation from which the technique is entered, and the checkpoint at which it joins. */
const Entry = z.object({ id: Id, from: text, joinsAt: Id, how: text });
/** Another technique that one can leave to, from a checkpoint that holds. */
const Exit = z.object({
  id: Id,
  at: Id,
  technique: Id,
  enteredAt: Id.optional(),
  how: text,
  /** When one leaves by it, such as when the partner straightens the arm. */
  when: text.optional(),
  /** Which exit is preferred, from 1; several may be as good. */
  rank: z.int().min(1).max(40).optional(),
  /** Not to be put on a training partner. */
  unsafe: z.boolean(),
});
/** One of several ways to finish from the same place. */
export const FinishingWay = z.object({
  id: Id,
  title,
  how: text,
  /** Which one is preferred, from 1; several may be as good. */
  rank: z.int().min(1).max(40).optional(),
});
export type FinishingWay = z.infer<typeof FinishingWay>;

/** One numbered edition of a technique's anatomy. Text is written for a right lead side, with side tokens. */
export const Draft = z.object({
  technique: Id,
  edition: EditionNumber,
  author: text,
  date: Day,
  source: text,
  checkpoints: z.array(Checkpoint).max(60),
  mistakes: z.array(Mistake).max(200),
  defences: z.array(Defence).max(100),
  entries: z.array(Entry).max(20).optional(),
  exits: z.array(Exit).max(40).optional(),
  finishes: z.array(FinishingWay).max(12).optional(),
  /** Where the attacker is left by a mistake that cannot be repaired. */
  fallback: Left.optional(),
  /** Checkpoints of earlier editions that have left; their reps are kept and they can come back. */
  retired: z.array(Checkpoint).max(60).optional(),
});
export type Draft = z.infer<typeof Draft>;

/** Where a breakdown names something that is not there, or twice the same: what no reader of it could live with. */
export function brokenLinks(draft: Draft): { path: (string | number)[]; message: string }[] {
  const faults: { path: (string | number)[]; message: string }[] = [];
  const point = (path: (string | number)[], message: string) => faults.push({ path, message });
  const ids = draft.checkpoints.map((checkpoint) => checkpoint.id);
  const known = new Set(ids);
  if (known.size < ids.length) point(['checkpoints'], 'two checkpoints have the same id');
  const needs = (id: Id | undefined, path: (string | number)[]) => {
    if (id !== undefined && !known.has(id)) point(path, `there is no checkpoint "${id}"`);
  };
  draft.checkpoints.forEach((checkpoint, i) => {
    for (const id of checkpoint.after)
      if (!known.has(id) || ids.indexOf(id) >= i)
        point(['checkpoints', i, 'after'], `"${id}" does not come before "${checkpoint.id}"`);
    needs(checkpoint.mendable?.backTo, ['checkpoints', i, 'mendable']);
    needs(checkpoint.together, ['checkpoints', i, 'together']);
  });
  draft.mistakes.forEach(({ at, root }, i) => {
    needs(at, ['mistakes', i, 'at']);
    needs(root, ['mistakes', i, 'root']);
  });
  draft.defences.forEach(({ opens, closes, answers }, i) => {
    needs(opens, ['defences', i, 'opens']);
    needs(closes, ['defences', i, 'closes']);
    const named = answers.flatMap(({ id }) => id ?? []);
    if (new Set(named).size < named.length)
      point(['defences', i, 'answers'], 'two answers to it have the same id');
    answers.forEach((answer, k) => {
      if (answer.do === 'mend') needs(answer.at, ['defences', i, 'answers', k, 'at']);
    });
  });
  draft.entries?.forEach(({ joinsAt }, i) => needs(joinsAt, ['entries', i, 'joinsAt']));
  draft.exits?.forEach(({ at }, i) => needs(at, ['exits', i, 'at']));
  const finishes = (draft.finishes ?? []).map(({ id }) => id);
  if (new Set(finishes).size < finishes.length) point(['finishes'], 'two finishes have the same id');
  const causes = [...draft.mistakes, ...draft.defences].map((cause) => cause.id);
  if (new Set(causes).size < causes.length) point(['mistakes'], 'two mistakes or defences have the same id');
  return faults;
}

/** A draft whose every link leads somewhere: what an edition is at least. */
export const Breakdown = Draft.superRefine((draft, context) => {
  if (draft.checkpoints.length === 0)
    context.addIssue({ code: 'custom', path: ['checkpoints'], message: 'a breakdown needs a checkpoint' });
  for (const { path, message } of brokenLinks(draft)) context.addIssue({ code: 'custom', path, message });
});
export type Breakdown = z.infer<typeof Breakdown>;
