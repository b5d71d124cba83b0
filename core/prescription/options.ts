import type { Breakdown, Id, Side, Variant } from '../breakdown';
import { activityAt, type Caps, type Loading, permit } from '../care';
import { type Drill, drillsFor } from '../drills';
import type { Student } from '../people';
import type { CheckpointReading, Reading } from '../reading';
import { type Rung, rungs } from '../rep';
import type { SignedSides } from './lifecycle';
import type { Candidate } from './prescription';
import { type Body, type Pairing, pairingOf, variantsFor } from '../variants';
import { signOffTest } from './signoff';
import { bestHold, drilledHold, fallOf, type Falls, risesAt, taught } from './value';

/** Free sparring is never dosed: nobody can start it at a checkpoint, nor count it. */
export const highestDosed: Rung = 3;
/**
 * For both people: forty reps of ten seconds, common practice. Drills that are not made for what is corrected all count so
 * long: what comes first never hangs on which of them is at hand.
 */
export const usualMinutes = 7;
/** What else a decision has to know of a student. */
export interface DecisionContext {
  mainSide: Side;
  /** May this student work at a rung, by the house's rules? Where it is not said, at every one. */
  may?: (rung: Rung) => boolean;
  /** The drills that there are; without them a correction names none. */
  drills?: readonly Drill[];
  falls?: Falls;
  /** Checkpoints that a coach would not have corrected at present. */
  declined?: ReadonlySet<Id>;
  /** Checkpoints that are signed off and have not lapsed, by side, each up to a rung. */
  signedOff?: ReadonlyMap<Id, SignedSides>;
  /** The body, and what is worn: it may call for a way of its own. Where it is not said, for none. */
  pairing?: Pairing;
  /** What the technique loads, and how often a class may take one person to it; where it is not said, as often as one likes. */
  load?: { technique: Loading; caps: Caps };
}

/** What a decision has to know of somebody on the roster. */
export const knownOf = (
  student: Pick<Student, 'mainSide'> & Body & Parameters<typeof permit>[0],
  technique: Parameters<typeof permit>[2] & Loading & Pick<Pairing, 'attire'>,
  circumstances: Parameters<typeof permit>[4],
): DecisionContext => ({
  mainSide: student.mainSide,
  may: (rung) => permit(student, null, technique, activityAt(rung), circumstances).verdict !== 'not allowed',
  load: { technique, caps: circumstances.rules.caps },
  pairing: pairingOf(technique, student, null),
});

/** A checkpoint with the best that can be done about it. */
export interface Option extends Candidate {
  at: CheckpointReading;
}

/** Has the student failed there, or later because of there; and is it above what it would be if it were fixed? */
const isCandidate = ({ atRoot: { failed, open, hazard, target } }: CheckpointReading): boolean =>
  failed + open > 0 && hazard.value > target;

type RootAndHere = Pick<CheckpointReading, 'atRoot' | 'failed'>;

/**
 * The rungs that may be dosed: those that were tried, one above where it is easy at the highest, one below where it is hard at
 * the lowest; never free sparring, none that the house forbids; alone where it forbids all.
 */
function rungsFor(at: RootAndHere, may: (rung: Rung) => boolean): Rung[] {
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
export const learningRung = (at: RootAndHere, may: (rung: Rung) => boolean = () => true): Rung =>
  mostTaught(at, rungsFor(at, may));

/** Of some rungs in order that at which a rep teaches most, the higher one of two. */
const mostTaught = (at: RootAndHere, among: readonly Rung[]): Rung =>
  among.reduce((a, b) => (taught(drilledHold(at, b)) >= taught(drilledHold(at, a)) - 1e-9 ? b : a));

/** What would be fixed at a root: mistakes rooted there, wherever they stop the rep, and defences met there; the dearest first. */
export const fixedAt = ({ checkpoints }: Reading, root: Id) =>
  checkpoints
    .flatMap(({ checkpoint, causes, leak }) =>
      causes
        .filter((one) => one.root === root && one.share > 0 && one.cause !== null)
        .map((one) => ({ ...one, checkpoint, lost: leak.value * one.share })),
    )
    .sort((a, b) => b.lost - a.lost);

/** The variants of a checkpoint that this body calls for with any partner. */
export const bodyWaysAt = (breakdown: Breakdown, checkpoint: Id, pairing: Pairing | undefined): Variant[] =>
  pairing === undefined
    ? []
    : variantsFor(breakdown, pairing).flatMap((way) =>
        way.checkpoint === checkpoint && way.variant.when.on === 'body' ? [way.variant] : [],
      );

/** What is wanted of a drill at a root: where the partner ends it mostly, its answer, if there is one to be drilled. */
function wantedAt(breakdown: Breakdown, reading: Reading, root: Id, pairing: Pairing | undefined) {
  const { defences } = breakdown;
  const fixed = fixedAt(reading, root);
  const blocked = defences.find(({ id }) => fixed[0]?.kind === 'defence' && id === fixed[0].cause);
  return {
    checkpoint: root,
    mistake: fixed.find(({ kind }) => kind === 'mistake')?.cause ?? null,
    defence: blocked && blocked.answers.length > 0 ? blocked.id : null,
    ways: bodyWaysAt(breakdown, root, pairing).map(({ id }) => id),
  };
}

interface Way {
  rung: Rung;
  drill: Drill | null;
  minutes: number;
  near: number;
}

/** The best that can be done about a checkpoint, or why nothing is. */
export function optionAt(
  breakdown: Breakdown,
  reading: Reading,
  at: CheckpointReading,
  { may = () => true, drills = [], falls, declined, signedOff, pairing }: DecisionContext,
): Option {
  const wanted = wantedAt(breakdown, reading, at.checkpoint, pairing);
  // What is signed off, and holds as what is owned should, is drilled no more at that rung but at a higher one. Above the
  // highest there is none: there it comes back where it still brings most.
  const { right, left } = signedOff?.get(at.checkpoint) ?? {};
  const signed = right !== undefined && left !== undefined ? (Math.min(right, left) as Rung) : undefined;
  const owned = signed !== undefined && signed < highestDosed && drilledHold(at, signed) >= signOffTest.owned;
  const settled = owned ? signed : -1;
  const above = (rung: Rung) => may(rung) && rung > settled;
  const open = rungsFor(at, above).filter((rung) => rung > settled);
  const rungsOpen = open.length > 0 ? open : rungsFor(at, may);
  const mostly = mostTaught(at, rungsOpen);
  const ways = rungsOpen.flatMap((rung): Way[] => {
    const found = drillsFor(drills, breakdown, wanted, rung);
    const nearest = found.filter(({ near }) => near === found[0]!.near);
    // Without a fitting drill, the checkpoint is drilled on its own, at the rung that teaches most.
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
  const rises = risesAt(reading, at.checkpoint);
  const options = from.map(({ rung, drill, minutes }): Option => {
    const hold = drilledHold(at, rung);
    const fall = fallOf(drill?.kind ?? null, falls) * taught(hold);
    const { checkpoint, promise } = at;
    const rise = rises(fall);
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
