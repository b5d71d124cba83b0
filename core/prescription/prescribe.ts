import { z } from 'zod';
import { type Breakdown, fundamentalsOf, Id, otherSide, placeOf, Side } from '../breakdown';
import { activityAt, permit } from '../care';
import { type Beta, betaQuantile, Estimate, tails } from '../math';
import { type CheckpointReading, fewestReps, type Reading, sideGapAbove } from '../reading';
import type { Student } from '../people';
import { Rung, rungs } from '../rep';
import { signOff } from './signoff';

/** A fundamental that breaks more often than this comes before what stands on it. */
export const fundamentalsFirstAbove = 0.35;
/** The rung to drill at is where the hold rate lies in here: hard enough to learn, easy enough to repeat. */
export const learningHold = { low: 0.6, high: 0.85 } as const;
/** It is clear what comes first where it is expected to bring this share of the best gain there is… */
export const clearPromise = 0.5;
/** …and is this surely above its target. */
export const clearlyAbove = 0.9;
/** Under this gain of the finish rate nothing is worth a correction. */
const leastGain = 0.02;
/** Where fewer reps than this share get as far as a checkpoint, reps are asked to start there. */
const seldomReached = 0.5;
/** Free sparring is never dosed: nobody can start it at a checkpoint, nor count it. */
const highestDosed: Rung = 3;
/** Common practice: ten each side, then swap. */
const usualReps = 10;
const usualSets = 2;
/** More reps than this are not asked for at once. */
const mostWatched = 30;

/** One correction for one student, with the numbers it stands on. */
export const Correction = z.object({
  kind: z.literal('correct'),
  checkpoint: Id,
  /** Reps that got here, and those that were lost here or later because of here: see `RootReading`. */
  reached: z.int(),
  failed: z.int(),
  /** Of the failed ones, those that stopped here. */
  failedHere: z.int(),
  /** Later stops that nobody tagged, and that would say more of it if somebody did. */
  open: z.int(),
  /** P(lost here, or later because of here | reached), and what it would be if it were fixed. */
  hazard: Estimate,
  leak: Estimate,
  gain: Estimate,
  target: z.number(),
  finishRate: z.number(),
  /** The checkpoint with the larger gain that has to wait for this one, under fundamentals first. */
  insteadOf: Id.nullable(),
  /** Where the reps stop, if that is later than the checkpoint to correct: the symptom of a root that is here. */
  symptom: Id.nullable(),
  /** The mistake rooted there that costs most, whose cue is given; null where the breakdown has none. */
  mistake: Id.nullable(),
  /** The defence that ends most of the stops there, if it ends more than any mistake. */
  defence: Id.nullable(),
  /** Who has said so: tags of this student’s own reps, or, where there are none, the squad’s and the breakdown’s shares. */
  toldBy: z.enum(['own tags', 'others']),
  dose: z.object({
    reps: z.int().positive(),
    sets: z.int().positive(),
    rung: Rung,
    sides: z.literal('both'),
    /** The side to begin with: the worse one where it surely is, else the main one. */
    first: Side,
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
  failed: z.int(),
  more: z.int().positive(),
  rung: Rung,
  startAt: Id.nullable(),
});

/** Nothing is worth correcting: no checkpoint is above what the squad's best quarter does. */
export const NothingToCorrect = z.object({ kind: z.literal('none'), reps: z.int() });

export const Prescription = z.discriminatedUnion('kind', [Correction, Watch, NothingToCorrect]);
export type Prescription = z.infer<typeof Prescription>;

/** What else a decision has to know of a student. */
export interface Known {
  mainSide: Side;
  /** May this student work at a rung, by the house's rules? Where it is not said, at every one. */
  may?: (rung: Rung) => boolean;
}

/** What a decision has to know of somebody on the roster. */
export const knownOf = (
  student: Pick<Student, 'mainSide'> & Parameters<typeof permit>[0],
  technique: Parameters<typeof permit>[2],
  circumstances: Parameters<typeof permit>[4],
): Known => ({
  mainSide: student.mainSide,
  may: (rung) => permit(student, null, technique, activityAt(rung), circumstances).verdict !== 'not allowed',
});

/**
 * The one thing to do next for a student on a technique: the checkpoint whose fixing would gain most, but first a
 * fundamental of it that itself breaks too often. It is said where it is clear, not where an interval is narrow: see
 * `clearPromise` and `clearlyAbove`. Where nothing the student did points at a checkpoint, it is never corrected.
 */
export function prescribe(breakdown: Breakdown, reading: Reading, known: Known): Prescription {
  const { checkpoints } = reading;
  const at = (id: Id): CheckpointReading => checkpoints[placeOf(breakdown, id)]!;
  const most = (list: readonly CheckpointReading[], of: (one: CheckpointReading) => number) =>
    list.reduce((a, b) => (of(b) > of(a) ? b : a));
  const candidates = checkpoints.filter(isCandidate);
  const unknown = checkpoints.filter(({ enough }) => !enough);
  if (candidates.length === 0 && unknown.length === 0) return { kind: 'none', reps: reading.reps };

  const best = candidates.length > 0 ? most(candidates, ({ promise }) => promise) : null;
  const fundamental = best
    ? fundamentalsOf(breakdown, best.checkpoint)
        .map(at)
        .find((one) => one.hazard.value > fundamentalsFirstAbove && isCandidate(one) && isAbove(one))
    : undefined;
  const chosen = fundamental ?? (best && best.promise >= clearPromise && isAbove(best) ? best : null);
  if (chosen && best) {
    if (chosen.rootGain.value < leastGain && unknown.length === 0)
      return { kind: 'none', reps: reading.reps };
    return correction(reading, chosen, fundamental ? best.checkpoint : null, known);
  }
  if (unknown.length === 0 && candidates.every(({ rootGain }) => rootGain.value < leastGain))
    return { kind: 'none', reps: reading.reps };
  // A rep tells most where a choice is promising and its gain uncertain.
  const watched = most(
    candidates.length > 0 ? candidates : unknown,
    ({ promise, rootGain }) => promise * (rootGain.high - rootGain.low),
  );
  return {
    kind: 'watch',
    checkpoint: watched.checkpoint,
    reached: watched.atRoot.reached,
    failed: watched.atRoot.failed,
    more: moreToDecide(watched),
    rung: learningRung(watched.atRoot, known.may),
    startAt: startOf(reading, watched),
  };
}

/** Has the student failed there, or later because of there; and is it above what it would be if it were fixed? */
const isCandidate = ({ atRoot: { failed, open, hazard, target } }: CheckpointReading): boolean =>
  failed + open > 0 && hazard.value > target;

/** Surely above its target, by more reps of the student's own than the squad's rate stands for. */
const isAbove = ({ atRoot: { above, reached } }: CheckpointReading): boolean =>
  above >= clearlyAbove && reached >= fewestReps;

const startOf = ({ checkpoints }: Reading, chosen: CheckpointReading): Id | null =>
  chosen.survivalBefore < seldomReached && chosen !== checkpoints[0] ? chosen.checkpoint : null;

function correction(
  reading: Reading,
  chosen: CheckpointReading,
  insteadOf: Id | null,
  { mainSide, may }: Known,
): Prescription {
  // What would be fixed here: the mistakes rooted here, wherever they stop the rep, and the defences met here; with the
  // shares that the choice was made by, so that the words cannot say another thing than the numbers.
  const fixed = reading.checkpoints
    .flatMap(({ checkpoint, causes, leak }) =>
      causes.map((one) => ({ ...one, checkpoint, lost: leak.value * one.share })),
    )
    .filter(({ root, share, cause }) => root === chosen.checkpoint && share > 0 && cause !== null)
    .sort((a, b) => b.lost - a.lost);
  const main = fixed[0];
  const { atRoot } = chosen;
  const worse = chosen.sideGap !== null && chosen.sideGap > sideGapAbove;
  return {
    kind: 'correct',
    checkpoint: chosen.checkpoint,
    reached: atRoot.reached,
    failed: atRoot.failed,
    failedHere: chosen.failed,
    open: atRoot.open,
    hazard: atRoot.hazard,
    leak: chosen.leak,
    gain: chosen.rootGain,
    target: atRoot.target,
    finishRate: reading.finishRate.value,
    insteadOf,
    symptom: main && main.checkpoint !== chosen.checkpoint ? main.checkpoint : null,
    mistake: fixed.find(({ kind }) => kind === 'mistake')?.cause ?? null,
    defence: main?.kind === 'defence' ? main.cause : null,
    toldBy: fixed.some(({ stops }) => stops > 0) ? 'own tags' : 'others',
    dose: {
      reps: usualReps,
      sets: usualSets,
      rung: learningRung(atRoot, may),
      sides: 'both',
      first: worse ? otherSide(mainSide) : mainSide,
      startAt: startOf(reading, chosen),
    },
    heldInARow: signOff([]).heldInARowToSettle,
  };
}

/**
 * The rung to drill at: the highest at which it holds often enough to learn at the root; one up where all is easy, one down
 * where nothing holds. Never more than one above the highest that was tried, never free sparring, never one that the house
 * forbids this student.
 */
export function learningRung(
  { byRung }: Pick<CheckpointReading['atRoot'], 'byRung'>,
  may: (rung: Rung) => boolean = () => true,
): Rung {
  const { low, high } = learningHold;
  const wanted = (): number => {
    if (byRung.length === 0) return 1;
    const within = byRung.filter(({ held }) => held >= low && held <= high);
    if (within.length > 0) return within.at(-1)!.rung;
    const easy = byRung.filter(({ held }) => held > high);
    return easy.length > 0 ? easy.at(-1)!.rung + 1 : Math.max(1, byRung[0]!.rung - 1);
  };
  const most = Math.min(wanted(), highestDosed);
  return rungs.findLast((rung) => rung <= most && may(rung)) ?? 0;
}

/** A Beta with the mean and the 80 % interval of an estimate, as nearly as there is one. */
function betaOf({ value, low, high }: Estimate): Beta {
  const mean = Math.min(0.999, Math.max(0.001, value));
  const deviation = Math.max(1e-4, (high - low) / (2 * 1.2816));
  const n = Math.max(1, (mean * (1 - mean)) / deviation ** 2 - 1);
  return { a: mean * n, b: (1 - mean) * n };
}

/** About how many more reps that get there would settle whether it is above its target, or which choice is the best. */
function moreToDecide({ atRoot: { hazard, target, reached } }: CheckpointReading): number {
  const { a, b } = betaOf(hazard);
  const mean = a / (a + b);
  const settled = (more: number): boolean => {
    const then = { a: a + more * mean, b: b + more * (1 - mean) };
    return betaQuantile(then, tails.low) > target || betaQuantile(then, tails.high) < target;
  };
  const fewest = Math.max(1, fewestReps - reached);
  // It is above its target already, but so may be another: half as much again as is known tells them apart.
  if (settled(0)) return reached < fewestReps ? fewest : Math.min(mostWatched, Math.ceil((a + b) / 2));
  for (let more = fewest; more < mostWatched; more++) if (settled(more)) return more;
  return mostWatched;
}
