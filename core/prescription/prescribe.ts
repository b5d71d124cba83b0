import { z } from 'zod';
import { type Breakdown, fundamentalsOf, Id, placeOf, Side } from '../breakdown';
import { Estimate } from '../math';
import { type CheckpointReading, type Reading, sideGapAbove } from '../reading';
import { Rung, rungs } from '../rep';
import { signOff } from './signoff';

/** A fundamental that breaks more often than this comes before what stands on it. */
export const fundamentalsFirstAbove = 0.35;
/** The rung to drill at is where the hold rate lies in here: hard enough to learn, easy enough to repeat. */
export const learningHold = { low: 0.6, high: 0.85 } as const;
/** Where fewer reps than this share get as far as a checkpoint, reps are asked to start there. */
const seldomReached = 0.5;
/** Common practice: ten each side, then swap. */
const usualReps = 10;
const usualSets = 2;

/** One correction for one student, with the numbers it stands on. */
export const Correction = z.object({
  kind: z.literal('correct'),
  checkpoint: Id,
  reached: z.int(),
  failed: z.int(),
  hazard: Estimate,
  leak: Estimate,
  gain: Estimate,
  target: z.number(),
  finishRate: z.number(),
  /** The checkpoint with the larger gain that has to wait for this one, under fundamentals first. */
  insteadOf: Id.nullable(),
  /** Where the reps stop, if that is later than the checkpoint to correct: the symptom of a root that is here. */
  symptom: Id.nullable(),
  /** The commonest tagged mistake rooted there, whose cue is given; null where none was tagged. */
  mistake: Id.nullable(),
  /** The defence that ends most of the stops there, if it ends more than any mistake. */
  defence: Id.nullable(),
  dose: z.object({
    reps: z.int().positive(),
    sets: z.int().positive(),
    rung: Rung,
    sides: z.union([z.literal('both'), Side]),
    startAt: Id.nullable(),
  }),
  /** Held in a row, from nothing, that signs it off. */
  heldInARow: z.int().positive(),
});

/** Too little is known for a verdict: what to watch, how often, at which rung, and from where the reps should start. */
export const Watch = z.object({
  kind: z.literal('watch'),
  checkpoint: Id,
  reached: z.int(),
  more: z.int().positive(),
  rung: Rung,
  startAt: Id.nullable(),
});

/** Nothing is worth correcting: no checkpoint is above what the squad's best quarter does. */
export const NothingToCorrect = z.object({ kind: z.literal('none'), reps: z.int() });

export const Prescription = z.discriminatedUnion('kind', [Correction, Watch, NothingToCorrect]);
export type Prescription = z.infer<typeof Prescription>;

/**
 * The one thing to do next for a student on a technique: the checkpoint whose fixing would gain most, but first a
 * fundamental of it that itself breaks too often, and no verdict on too little evidence.
 */
export function prescribe(breakdown: Breakdown, reading: Reading, mainSide: Side): Prescription {
  const at = (id: Id): CheckpointReading => reading.checkpoints[placeOf(breakdown, id)]!;
  const best = reading.checkpoints.reduce((a, b) => (b.promise > a.promise ? b : a));
  const first = fundamentalsOf(breakdown, best.checkpoint)
    .map(at)
    .find(({ hazard, rootGain }) => hazard.value > fundamentalsFirstAbove && rootGain.value > 0);
  const chosen = first ?? best;
  const rung = learningRung(chosen);
  const startAt =
    chosen.survivalBefore < seldomReached && chosen !== reading.checkpoints[0] ? chosen.checkpoint : null;
  if (!chosen.enough)
    return {
      kind: 'watch',
      checkpoint: chosen.checkpoint,
      reached: chosen.reached,
      more: chosen.moreNeeded,
      rung,
      startAt,
    };
  if (best.rootGain.value <= 0) return { kind: 'none', reps: reading.reps };
  // What would be fixed here: the mistakes rooted here, wherever they stop the rep, and the defences met here.
  const fixed = reading.checkpoints
    .flatMap(({ checkpoint, causes, leak }) =>
      causes.map((one) => ({ ...one, checkpoint, lost: leak.value * one.share })),
    )
    .filter(({ root, stops, cause }) => root === chosen.checkpoint && stops > 0 && cause !== null)
    .sort((a, b) => b.lost - a.lost);
  const main = fixed[0];
  const mistake = fixed.find(({ kind }) => kind === 'mistake');
  const gap = chosen.sideGap;
  return {
    kind: 'correct',
    checkpoint: chosen.checkpoint,
    reached: chosen.reached,
    failed: chosen.failed,
    hazard: chosen.hazard,
    leak: chosen.leak,
    gain: chosen.rootGain,
    target: chosen.target,
    finishRate: reading.finishRate.value,
    insteadOf: first ? best.checkpoint : null,
    symptom: main && main.checkpoint !== chosen.checkpoint ? main.checkpoint : null,
    mistake: mistake?.cause ?? null,
    defence: main?.kind === 'defence' ? main.cause : null,
    dose: {
      reps: usualReps,
      sets: usualSets,
      rung,
      sides: gap !== null && gap > sideGapAbove ? 'both' : mainSide,
      startAt,
    },
    heldInARow: signOff([]).heldInARowToSettle,
  };
}

/** The highest rung at which the checkpoint holds often enough to learn; one up where all is easy, one down where nothing holds. */
export function learningRung({ byRung }: Pick<CheckpointReading, 'byRung'>): Rung {
  if (byRung.length === 0) return 1;
  const { low, high } = learningHold;
  const within = byRung.filter(({ held }) => held.value >= low && held.value <= high);
  if (within.length > 0) return within.at(-1)!.rung;
  const easy = byRung.filter(({ held }) => held.value > high);
  if (easy.length > 0) return rungs[Math.min(4, easy.at(-1)!.rung + 1)]!;
  return rungs[Math.max(1, byRung[0]!.rung - 1)]!;
}
