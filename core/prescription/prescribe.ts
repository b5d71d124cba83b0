import { z } from 'zod';
import { type Breakdown, fundamentalsOf, Id, otherSide, Side } from '../breakdown';
import { activityAt, permit } from '../care';
import { type Beta, betaQuantile, Estimate, tails } from '../math';
import { type CheckpointReading, fewestReps, type Reading, sideGapAbove } from '../reading';
import { type Drill, drillsFor } from '../drills';
import type { Student } from '../people';
import { Rung, rungs } from '../rep';
import { signOff, signOffTest } from './signoff';
import { bestHold, drilledHold, fallOf, type Falls, riseOf, taught } from './value';

/** A fundamental that breaks more often than this comes before what stands on it. */
export const fundamentalsFirstAbove = 0.35;
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
/**
 * For both people: forty reps of ten seconds, common practice. A drill for any point of a kind counts as long as any other, so
 * that what comes first never hangs on which of them is at hand.
 */
const usualMinutes = 7;
/** How many of those that lost are told in a reason. */
const mostTold = 5;
/** More reps than this are not asked for at once. */
const mostWatched = 30;

/** A checkpoint that could have been prescribed, what a dose there would bring, and why it is not what was chosen. */
export const Candidate = z.object({
  checkpoint: Id,
  rung: Rung,
  drill: Id.nullable(),
  minutes: z.number().positive(),
  /** How often a rep holds that is drilled for it at that rung. */
  hold: z.number(),
  /** What a dose does to the log-odds of breaking there. */
  fall: z.number(),
  /** What the finish rate is expected to rise by. */
  rise: z.number(),
  promise: z.number(),
  above: z.number(),
  lostBy: z
    .enum(['brings less', 'stands on it', 'declined', 'signed off', 'not clear yet', 'nothing to gain'])
    .nullable(),
});
export type Candidate = z.infer<typeof Candidate>;

/** Which rules decided beside the numbers. */
export const RuleFired = z.enum([
  'fundamentals first',
  'one rung above the highest tried at most',
  'the house allows no higher rung',
  'never free sparring',
  'the worse side first',
  'starts here because few get this far',
  'stops here because the drill does',
]);
export type RuleFired = z.infer<typeof RuleFired>;

/** Why this and not another: the chosen one first, then those that lost, the best first. */
export const Reason = z.object({ candidates: z.array(Candidate), rules: z.array(RuleFired) });
export type Reason = z.infer<typeof Reason>;

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
    /** The last checkpoint that is done; null where the reps go on. */
    endAt: Id.nullable(),
  }),
  /** What to drill it with; null where the library has nothing for it. */
  drill: Id.nullable(),
  reason: Reason,
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

/** Nothing is worth correcting: no checkpoint is above what the squad's best quarter does. What would still bring most. */
export const NothingToCorrect = z.object({
  kind: z.literal('none'),
  reps: z.int(),
  onwards: z.object({ checkpoint: Id, rung: Rung }).nullable(),
});

export const Prescription = z.discriminatedUnion('kind', [Correction, Watch, NothingToCorrect]);
export type Prescription = z.infer<typeof Prescription>;

/** What else a decision has to know of a student. */
export interface Known {
  mainSide: Side;
  /** May this student work at a rung, by the house's rules? Where it is not said, at every one. */
  may?: (rung: Rung) => boolean;
  /** The drills that there are; without them a correction names none. */
  drills?: readonly Drill[];
  falls?: Falls;
  /** Checkpoints that a coach would not have corrected at present. */
  declined?: ReadonlySet<Id>;
  /** Checkpoints that are signed off and have not lapsed, each up to a rung. */
  signedOff?: ReadonlyMap<Id, Rung>;
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

/** A checkpoint with the best that can be done about it. */
interface Option extends Candidate {
  at: CheckpointReading;
}

/**
 * The one thing to do next for a student on a technique: the checkpoint at which a dose brings the finish rate most per
 * minute, but first a fundamental of it that itself breaks too often. It is said where it is clear, not where an interval is
 * narrow: see `clearPromise` and `clearlyAbove`. Where nothing the student did points at a checkpoint, it is never corrected.
 */
export function prescribe(breakdown: Breakdown, reading: Reading, known: Known): Prescription {
  const { checkpoints } = reading;
  const options = checkpoints
    .map((at) => optionAt(breakdown, reading, at, known))
    .sort((a, b) => b.rise / b.minutes - a.rise / a.minutes);
  const open = options.filter(({ lostBy }) => lostBy === null);
  const next = options.find(({ lostBy }) => lostBy === null || lostBy === 'nothing to gain');
  const none = {
    kind: 'none',
    reps: reading.reps,
    onwards: next ? { checkpoint: next.checkpoint, rung: next.rung } : null,
  } as const;
  const unknown = checkpoints.some(({ enough }) => !enough);
  const best = open[0];
  const fundamental =
    best &&
    fundamentalsOf(breakdown, best.checkpoint)
      .map((id) => open.find(({ checkpoint }) => checkpoint === id))
      .find((one) => one && one.at.hazard.value > fundamentalsFirstAbove && isAbove(one.at));
  const chosen = fundamental ?? (best && isClear(best.at) ? best : undefined);
  if (chosen && best) {
    if (chosen.at.rootGain.value < leastGain && !unknown) return none;
    const insteadOf = fundamental && fundamental !== best ? best : null;
    const rest = options.filter((one) => one !== chosen);
    return correction(reading, chosen, insteadOf, rest, known);
  }
  if (!unknown && open.every(({ at }) => at.rootGain.value < leastGain)) return none;
  // A rep tells most where a choice is promising and its gain uncertain.
  const watchable =
    open.length > 0
      ? open.map(({ at }) => at)
      : checkpoints.filter(({ enough, checkpoint }) => !enough && !known.declined?.has(checkpoint));
  if (watchable.length === 0) return none;
  const tells = ({ promise, rootGain }: CheckpointReading) => promise * (rootGain.high - rootGain.low);
  const watched = watchable.reduce((a, b) => (tells(b) > tells(a) ? b : a));
  return {
    kind: 'watch',
    checkpoint: watched.checkpoint,
    reached: watched.atRoot.reached,
    failed: watched.atRoot.failed,
    more: moreToDecide(watched),
    rung: learningRung(watched, known.may),
    startAt: startOf(reading, watched),
  };
}

/** Has the student failed there, or later because of there; and is it above what it would be if it were fixed? */
const isCandidate = ({ atRoot: { failed, open, hazard, target } }: CheckpointReading): boolean =>
  failed + open > 0 && hazard.value > target;

/** Surely above its target, by more reps of the student's own than the squad's rate stands for. */
const isAbove = ({ atRoot: { above, reached } }: CheckpointReading): boolean =>
  above >= clearlyAbove && reached >= fewestReps;

const isClear = (at: CheckpointReading): boolean => at.promise >= clearPromise && isAbove(at);

const startOf = ({ checkpoints }: Reading, chosen: CheckpointReading): Id | null =>
  chosen.survivalBefore < seldomReached && chosen !== checkpoints[0] ? chosen.checkpoint : null;

/** Drills that end where the point is made: nothing after it is done. */
const endsThere: ReadonlySet<Drill['kind']> = new Set(['isolation', 'timed hold']);

type Seen = Pick<CheckpointReading, 'atRoot' | 'failed'>;

/**
 * The rungs that may be dosed: those that were tried, one above where it is easy at the highest, one below where it is hard at
 * the lowest; never free sparring, none that the house forbids; alone where it forbids all.
 */
function rungsFor(at: Seen, may: (rung: Rung) => boolean): Rung[] {
  const tried = at.atRoot.byRung.filter(({ reached }) => reached > 0).map(({ rung }) => rung);
  const [lowest = 1, highest = 0] = [tried[0], tried.at(-1)];
  const first = drilledHold(at, lowest) < bestHold ? lowest - 1 : lowest;
  const last = drilledHold(at, highest) > bestHold ? highest + 1 : highest;
  const open = rungs.filter(
    (rung) => Math.max(1, first) <= rung && rung <= Math.min(highestDosed, Math.max(1, last)) && may(rung),
  );
  return open.length > 0
    ? open
    : [rungs.findLast((rung) => rung <= Math.min(highestDosed, first) && may(rung)) ?? 0];
}

/**
 * The rung to drill at: where a rep teaches most, the higher one of two. Never more than one above the highest that was
 * tried, never free sparring, never one that the house forbids this student; alone where it forbids all.
 */
export const learningRung = (at: Seen, may: (rung: Rung) => boolean = () => true): Rung =>
  mostTaught(at, rungsFor(at, may));

/** Of some rungs in order that at which a rep teaches most, the higher one of two. */
const mostTaught = (at: Seen, among: readonly Rung[]): Rung =>
  among.reduce((a, b) => (taught(drilledHold(at, b)) >= taught(drilledHold(at, a)) - 1e-9 ? b : a));

/** What would be fixed at a root: mistakes rooted there, wherever they stop the rep, and defences met there; the dearest first. */
const fixedAt = ({ checkpoints }: Reading, root: Id) =>
  checkpoints
    .flatMap(({ checkpoint, causes, leak }) =>
      causes.map((one) => ({ ...one, checkpoint, lost: leak.value * one.share })),
    )
    .filter((one) => one.root === root && one.share > 0 && one.cause !== null)
    .sort((a, b) => b.lost - a.lost);

/** What is wanted of a drill at a root. */
function wantedAt(reading: Reading, root: Id) {
  const fixed = fixedAt(reading, root);
  return {
    checkpoint: root,
    mistake: fixed.find(({ kind }) => kind === 'mistake')?.cause ?? null,
    defence: fixed[0]?.kind === 'defence' ? fixed[0].cause : null,
  };
}

interface Way {
  rung: Rung;
  drill: Drill | null;
  minutes: number;
  near: number;
}

/** The best that can be done about a checkpoint, or why nothing is. */
function optionAt(
  breakdown: Breakdown,
  reading: Reading,
  at: CheckpointReading,
  { may = () => true, drills = [], falls, declined, signedOff }: Known,
): Option {
  const wanted = wantedAt(reading, at.checkpoint);
  // What is signed off, and holds as what is owned should, is drilled no more at that rung but at a higher one. Above the
  // highest there is none: there it comes back where it still brings most.
  const signed = signedOff?.get(at.checkpoint);
  const owned = signed !== undefined && signed < highestDosed && drilledHold(at, signed) >= signOffTest.owned;
  const settled = owned ? signed : -1;
  const above = (rung: Rung) => may(rung) && rung > settled;
  const open = rungsFor(at, above).filter((rung) => rung > settled);
  const rungsOpen = open.length > 0 ? open : rungsFor(at, may);
  const mostly = mostTaught(at, rungsOpen);
  const ways = rungsOpen.flatMap((rung): Way[] => {
    const found = drillsFor(drills, breakdown, wanted, rung);
    const nearest = found.filter(({ near }) => near === found[0]!.near);
    // Without a drill that fits, the point is drilled by itself, at the rung that teaches most.
    return nearest.length > 0
      ? nearest.map(({ drill, near }) => ({
          rung,
          drill,
          minutes: near > 1 ? drill.minutes : usualMinutes,
          near,
        }))
      : [{ rung, drill: null, minutes: usualMinutes, near: 0 }];
  });
  // At the rung that teaches most; only where no drill is made for it there, at another one.
  const atBest = ways.filter(({ rung }) => rung === mostly);
  const nearest = Math.max(...ways.map(({ near }) => near));
  const from = atBest.some(({ near }) => near > 0) || nearest === 0 ? atBest : ways;
  const options = from.map(({ rung, drill, minutes }): Option => {
    const hold = drilledHold(at, rung);
    const fall = fallOf(drill?.kind ?? null, falls) * taught(hold);
    const { checkpoint, promise } = at;
    const rise = riseOf(reading, checkpoint, fall);
    const lostBy = !isCandidate(at)
      ? 'nothing to gain'
      : declined?.has(checkpoint)
        ? 'declined'
        : open.length === 0
          ? 'signed off'
          : null;
    return {
      at,
      checkpoint,
      rung,
      drill: drill?.id ?? null,
      minutes,
      hold,
      fall,
      rise,
      promise,
      above: at.atRoot.above,
      lostBy,
    };
  });
  // The kind of drill that does most here; of equal ones the plainer, as they are sorted.
  return options.reduce((a, b) => (b.rise > a.rise + 1e-9 ? b : a));
}

function correction(
  reading: Reading,
  chosen: Option,
  insteadOf: Option | null,
  rest: readonly Option[],
  { mainSide, may = () => true, drills = [] }: Known,
): Prescription {
  const { at, rung } = chosen;
  // With the shares that the choice was made by, so that the words cannot say another thing than the numbers.
  const fixed = fixedAt(reading, at.checkpoint);
  const main = fixed[0];
  const { atRoot } = at;
  const worse = at.sideGap !== null && at.sideGap > sideGapAbove;
  const startAt = startOf(reading, at);
  const drill = drills.find(({ id }) => id === chosen.drill) ?? null;
  const tried = atRoot.byRung.findLast(({ reached }) => reached > 0)?.rung ?? 0;
  const wouldBe = (other: Rung) => taught(drilledHold(at, other)) > taught(chosen.hold);
  const rules: RuleFired[] = [
    ...(insteadOf ? ['fundamentals first' as const] : []),
    ...(rung === tried + 1 && rung < highestDosed && wouldBe((rung + 1) as Rung)
      ? ['one rung above the highest tried at most' as const]
      : []),
    ...(rung < highestDosed && !may((rung + 1) as Rung) ? ['the house allows no higher rung' as const] : []),
    ...(rung === highestDosed && wouldBe(4) ? ['never free sparring' as const] : []),
    ...(worse ? ['the worse side first' as const] : []),
    ...(startAt ? ['starts here because few get this far' as const] : []),
    ...(drill && endsThere.has(drill.kind) ? ['stops here because the drill does' as const] : []),
  ];
  const told = ({ at: _, ...one }: Option, lostBy: Candidate['lostBy']): Candidate => ({ ...one, lostBy });
  const reason: Reason = {
    candidates: [
      told(chosen, null),
      ...rest
        .slice(0, mostTold)
        .map((one) =>
          told(
            one,
            one.lostBy ??
              (one === insteadOf
                ? 'stands on it'
                : one.rise / one.minutes > chosen.rise / chosen.minutes && !isClear(one.at)
                  ? 'not clear yet'
                  : 'brings less'),
          ),
        ),
    ],
    rules,
  };
  return {
    kind: 'correct',
    checkpoint: at.checkpoint,
    reached: atRoot.reached,
    failed: atRoot.failed,
    failedHere: at.failed,
    open: atRoot.open,
    hazard: atRoot.hazard,
    leak: at.leak,
    gain: at.rootGain,
    target: atRoot.target,
    finishRate: reading.finishRate.value,
    insteadOf: insteadOf?.checkpoint ?? null,
    symptom: main && main.checkpoint !== at.checkpoint ? main.checkpoint : null,
    mistake: fixed.find(({ kind }) => kind === 'mistake')?.cause ?? null,
    defence: main?.kind === 'defence' ? main.cause : null,
    toldBy: fixed.some(({ stops }) => stops > 0) ? 'own tags' : 'others',
    dose: {
      reps: usualReps,
      sets: usualSets,
      rung,
      sides: 'both',
      first: worse ? otherSide(mainSide) : mainSide,
      startAt,
      endAt: drill && endsThere.has(drill.kind) ? at.checkpoint : null,
    },
    drill: chosen.drill,
    reason,
    heldInARow: signOff([]).heldInARowToSettle,
  };
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
