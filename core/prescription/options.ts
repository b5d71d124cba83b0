import { type Breakdown, type Id, placeOf, type Side, type Variant } from '../breakdown';
import { activityAt, type Caps, type Loading, permit } from '../care';
import { type Drill, drillCalled, drillsFor, lastOf } from '../drills';
import type { Student } from '../people';
import type { CheckpointReading, Reading } from '../reading';
import { provedAt, type Rung, rungs } from '../rep';
import type { Life, SignedSides } from './lifecycle';
import type { Candidate } from './prescription';
import { type Body, type Pairing, pairingOf, variantsFor } from '../variants';
import { signOffTest } from './signoff';
import { bestHold, drilledHold, fallOf, type Falls, risesAt, taught } from './value';

/** Free sparring is never dosed: nobody can start it at a checkpoint, nor count it. */
export const highestDosed: Rung = 3;
/** How often an answer was tried, and how often it worked. */
export interface AnswerTried {
  answer: Id;
  tried: number;
  worked: number;
}

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
  /** The answers to each defence that were tried here, and how often they worked. */
  answers?: ReadonlyMap<Id, readonly AnswerTried[]>;
  /** What the student works on; null where that is nothing. */
  inWork?: Pick<Life, 'state' | 'terms'> | null;
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

type AtRoot = Pick<CheckpointReading, 'atRoot'>;

/**
 * The rungs that may be dosed: those that were tried, one above where it is easy at the highest, one below where it is hard at
 * the lowest; never free sparring, none that the house forbids; alone where it forbids all.
 */
function rungsFor(at: AtRoot, may: (rung: Rung) => boolean, shows?: Id): Rung[] {
  const { tried } = at.atRoot;
  const [lowest, highest] = [tried[0]?.rung ?? 1, tried.at(-1)?.rung ?? 0];
  const first = drilledHold(at, lowest, shows) < bestHold ? lowest - 1 : lowest;
  const last = drilledHold(at, highest, shows) > bestHold ? highest + 1 : highest;
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
export const learningRung = (at: AtRoot, may: (rung: Rung) => boolean = () => true, shows?: Id): Rung =>
  mostTaught(at, rungsFor(at, may, shows), shows);

/** Of some rungs in order that at which a rep teaches most, the higher one of two. */
const mostTaught = (at: AtRoot, among: readonly Rung[], shows?: Id): Rung =>
  among.reduce((a, b) =>
    taught(drilledHold(at, b, shows)) >= taught(drilledHold(at, a, shows)) - 1e-9 ? b : a,
  );

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
export const bodyWaysAt = (
  breakdown: Pick<Breakdown, 'checkpoints'>,
  checkpoint: Id,
  pairing: Pairing | undefined,
): Variant[] =>
  pairing === undefined
    ? []
    : variantsFor(breakdown, pairing).flatMap((way) =>
        way.checkpoint === checkpoint && way.variant.when.on === 'body' ? [way.variant] : [],
      );

/** What explains most of the losses at a root: a mistake, or a defence that ends it; neither where nobody knows. */
export function mostlyAt(reading: Reading, root: Id): { mistake: Id | null; defence: Id | null } {
  const [main] = fixedAt(reading, root);
  return {
    mistake: main?.kind === 'mistake' ? main.cause : null,
    defence: main?.kind === 'defence' ? main.cause : null,
  };
}

/** The checkpoint at which it shows whether a root held, for what explains most of its losses. */
export const showsFor = (breakdown: Breakdown, reading: Reading, root: Id): Id =>
  breakdown.checkpoints[provedAt(breakdown, { checkpoint: root, ...mostlyAt(reading, root) })]!.id;

/** What a mistake itself says to drill: the library's drills of these names, else its first words. */
export function ownDrillOf(
  breakdown: Pick<Breakdown, 'mistakes'>,
  mistake: Id | null,
  drills: readonly Drill[],
): string | null {
  const words = breakdown.mistakes.find(({ id }) => id === mistake)?.drills ?? [];
  return words.some((one) => drillCalled(drills, one)) ? null : (words[0] ?? null);
}

/** The drill for a root at a rung, of those made nearest to it the kind that is expected to do most here; null where there is none. */
function drillAt(
  breakdown: Breakdown,
  reading: Reading,
  root: Id,
  rung: Rung,
  { drills = [], falls, pairing }: DecisionContext,
): Drill | null {
  const mostly = mostlyAt(reading, root);
  const blocked = breakdown.defences.find(({ id }) => id === mostly.defence);
  // What nobody has an answer to cannot be drilled yet: one has to be found.
  if (blocked && blocked.answers.length === 0) return null;
  const ways = bodyWaysAt(breakdown, root, pairing).map(({ id }) => id);
  const found = drillsFor(drills, breakdown, { checkpoint: root, ...mostly, ways }, rung);
  const nearest = found.filter(({ near }) => near === found[0]!.near);
  if (
    nearest.length === 0 ||
    (nearest[0]!.near < 3 && ownDrillOf(breakdown, mostly.mistake, drills) !== null)
  )
    return null;
  // Those first whose reps go as far as the failure would show.
  const place = placeOf(breakdown, root);
  const shows = provedAt(breakdown, { checkpoint: root, ...mostly });
  const proving = nearest.filter(({ drill }) => lastOf(drill, breakdown, place) >= shows);
  const fall = ({ drill }: (typeof nearest)[number]) => fallOf(drill.kind, falls);
  return (proving.length > 0 ? proving : nearest).reduce((a, b) => (fall(b) < fall(a) - 1e-9 ? b : a)).drill;
}

/** The best that can be done about a checkpoint, or why nothing is. */
export function optionAt(
  breakdown: Breakdown,
  reading: Reading,
  at: CheckpointReading,
  known: DecisionContext,
): Option {
  const { may = () => true, declined, signedOff, inWork } = known;
  const { checkpoint, promise } = at;
  const shows = showsFor(breakdown, reading, checkpoint);
  // What is signed off, and holds as what is owned should, is drilled no more at that rung but at a higher one. Above the
  // highest there is none: there it comes back where it still brings most.
  const { right, left } = signedOff?.get(checkpoint) ?? {};
  const signed = right !== undefined && left !== undefined ? (Math.min(right, left) as Rung) : undefined;
  const owned =
    signed !== undefined && signed < highestDosed && drilledHold(at, signed, shows) >= signOffTest.owned;
  const settled = owned ? signed : -1;
  // What proved too hard goes on a rung lower, if there is one with a partner.
  const tooHard =
    inWork?.state === 'stepped back' && inWork.terms.checkpoint === checkpoint ? inWork.terms.rung : Infinity;
  const open = rungsFor(at, (rung) => may(rung) && rung > settled, shows).filter((rung) => rung > settled);
  const within = open.length > 0 ? open : rungsFor(at, may, shows);
  const easier = within.filter((rung) => rung < tooHard);
  const below = rungs.filter((rung) => 1 <= rung && rung < tooHard && may(rung)).at(-1);
  const rung = mostTaught(
    at,
    easier.length > 0 ? easier : below !== undefined && tooHard < Infinity ? [below] : within,
    shows,
  );
  const hold = drilledHold(at, rung, shows);
  // The same for all, whichever drill is at hand: they are compared at the same minutes.
  const fall = fallOf(null) * taught(hold);
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
    drill: drillAt(breakdown, reading, checkpoint, rung, known)?.id ?? null,
    hold,
    fall,
    rise: risesAt(reading, checkpoint)(fall),
    promise,
    above: at.atRoot.above,
    lostBy,
  };
}
