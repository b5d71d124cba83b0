import { z } from 'zod';
import { Id } from './ids';
import { Attire } from './technique';

/** The five kinds of checkpoint, in the order in which they usually stand. */
export const CheckpointKind = z.enum(['base', 'grip', 'angle', 'pressure', 'finish']);
export type CheckpointKind = z.infer<typeof CheckpointKind>;

/** How one can tell that a checkpoint holds. */
export const Proof = z.object({ by: z.enum(['see', 'feel', 'ask', 'measure']), text: z.string().min(1) });

/** The measured range within which a checkpoint holds; `low` and `high` are in `unit`. */
export const Tolerance = z.object({
  quantity: z.enum(['angle', 'distance', 'time', 'count', 'share']),
  unit: z.enum(['degrees', 'centimetres', 'finger widths', 'seconds', 'times', 'percent']),
  low: z.number(),
  high: z.number(),
  between: z.string().min(1),
});

/** When a variant replaces its checkpoint's text: a school, an attire, or measured facts of the two bodies. */
export const Condition = z.discriminatedUnion('on', [
  z.object({ on: z.literal('school'), school: z.string().min(1) }),
  z.object({ on: z.literal('attire'), attire: Attire }),
  z.object({
    on: z.literal('body'),
    fact: z.enum(['reach margin', 'partner mass ratio', 'hip mobility', 'stature ratio']),
    is: z.enum(['<', '>', '=']),
    value: z.union([z.number(), z.enum(['low', 'middle', 'high'])]),
  }),
]);

export const Variant = z.object({
  id: Id,
  name: z.string().min(1),
  when: Condition,
  criterion: z.string().optional(),
  proofs: z.array(Proof).optional(),
  tolerance: Tolerance.optional(),
});

/** One thing that must become true. Its id lives through every edition, so old reps keep counting. */
export const Checkpoint = z.object({
  id: Id,
  kind: CheckpointKind,
  title: z.string().min(1).max(60),
  criterion: z.string().min(1),
  proofs: z.array(Proof),
  tolerance: Tolerance.optional(),
  /** Checkpoints that must hold before this one. */
  after: z.array(Id),
  /** The coach's share of the whole, 0–100; the shares of a breakdown sum to 100. */
  belief: z.number().min(0).max(100),
  window: z.object({ opens: z.string().min(1), closes: z.string().min(1) }).optional(),
  /** Whether it can be repaired without starting over, and from which checkpoint one goes on. */
  mendable: z.object({ backTo: Id }).nullable(),
  variants: z.array(Variant),
});
export type Checkpoint = z.infer<typeof Checkpoint>;

/** A usual way to break a checkpoint (`at`, the symptom); `root` is the same or an earlier one. */
export const Mistake = z.object({
  id: Id,
  at: Id,
  root: Id,
  title: z.string().min(1).max(60),
  seen: z.string().min(1),
  believes: z.string().min(1),
  breaks: z.string().min(1),
  cue: z.string().min(1),
  drills: z.array(z.string().min(1)),
  /** How often it is the cause at its checkpoint, relative to the others there. */
  priorShare: z.number().positive().default(1),
});
export type Mistake = z.infer<typeof Mistake>;

export const Answer = z.discriminatedUnion('do', [
  z.object({ do: z.literal('mend'), at: Id, how: z.string().min(1), bait: z.boolean().default(false) }),
  z.object({
    do: z.literal('switch'),
    technique: Id,
    enteredAt: Id.optional(),
    how: z.string().min(1),
    bait: z.boolean().default(false),
  }),
  z.object({
    do: z.literal('retreat'),
    to: z.string().min(1),
    how: z.string().min(1),
    bait: z.boolean().default(false),
  }),
]);

/** What the partner does about it, from the moment checkpoint `opens` is reached until `closes` holds. */
export const Defence = z.object({
  id: Id,
  opens: Id,
  closes: Id,
  underLoadOnly: z.boolean(),
  type: z.enum(['prevention', 'counter', 'escape', 'last ditch']),
  title: z.string().min(1).max(60),
  signal: z.string().min(1),
  brokenDownIn: Id.optional(),
  leaves: z.object({ position: z.string().min(1), ahead: z.enum(['attacker', 'neither', 'partner']) }),
  answers: z.array(Answer),
  priorShare: z.number().positive().default(1),
});
export type Defence = z.infer<typeof Defence>;

/** One numbered edition of a technique's anatomy. Text is written for a right lead side, with side tokens. */
export const Breakdown = z
  .object({
    technique: Id,
    edition: z.int().positive(),
    author: z.string().min(1),
    date: z.iso.date(),
    source: z.string().min(1),
    checkpoints: z.array(Checkpoint).min(1),
    mistakes: z.array(Mistake),
    defences: z.array(Defence),
  })
  .superRefine((breakdown, context) => {
    const ids = breakdown.checkpoints.map((checkpoint) => checkpoint.id);
    const known = new Set(ids);
    const point = (path: (string | number)[], message: string) =>
      context.addIssue({ code: 'custom', path, message });
    if (known.size < ids.length) point(['checkpoints'], 'two checkpoints have the same id');
    breakdown.checkpoints.forEach((checkpoint, i) => {
      for (const id of checkpoint.after)
        if (!known.has(id) || ids.indexOf(id) >= i)
          point(['checkpoints', i, 'after'], `"${id}" does not stand before "${checkpoint.id}"`);
      const back = checkpoint.mendable?.backTo;
      if (back && !known.has(back)) point(['checkpoints', i, 'mendable'], `there is no checkpoint "${back}"`);
    });
    breakdown.mistakes.forEach((mistake, i) => {
      for (const field of ['at', 'root'] as const)
        if (!known.has(mistake[field]))
          point(['mistakes', i, field], `there is no checkpoint "${mistake[field]}"`);
    });
    breakdown.defences.forEach((defence, i) => {
      for (const field of ['opens', 'closes'] as const)
        if (!known.has(defence[field]))
          point(['defences', i, field], `there is no checkpoint "${defence[field]}"`);
    });
    const causes = [...breakdown.mistakes, ...breakdown.defences].map((cause) => cause.id);
    if (new Set(causes).size < causes.length)
      point(['mistakes'], 'two mistakes or defences have the same id');
  });
export type Breakdown = z.infer<typeof Breakdown>;
