import {
  type Breakdown,
  type Id,
  isRelation,
  type Mistake,
  otherSide,
  placeOf,
  type Side,
  toleranceWords,
} from '../breakdown';
import { capsOn, firstLoad, unexposed, type Whom } from '../care';
import { type Drill, drillsFor, lastOf } from '../drills';
import { type Reading, sideGapAbove } from '../reading';
import { type Corrected, provedAt } from '../rep';
import { type DecisionContext, mostlyAt, type Option, ownDrillOf } from './options';
import type { Correction, RuleFired } from './prescription';
import type { Sign, SignOffBy, Terms } from './step';
import { startOf } from './unsure';

type Dose = Correction['dose'];

/** Common practice: ten each side, then swap. */
const usual = { reps: 10, sets: 2 } as const;

/** Reps of a dose, on all its sides. */
const repsOf = ({ sets, reps, sides }: Pick<Dose, 'sets' | 'reps' | 'sides'>): number =>
  sets * reps * (sides === 'both' ? 2 : 1);

/** Seconds that a rep takes: those of its drill, which says its minutes for the usual dose, or ten and a half. Common practice. */
const secondsOf = (drill: Drill | undefined): number =>
  drill === undefined ? 10.5 : (60 * drill.minutes) / repsOf({ ...usual, sides: 'both' });

/** Whole minutes that the reps of a dose take. */
export const minutesOf = (terms: Pick<Terms, 'sets' | 'reps' | 'sides'>, drill: Drill | undefined): number =>
  Math.max(1, Math.round((repsOf(terms) * secondsOf(drill)) / 60));

/** Both sides, unless one is signed off at that rung; the worse one first where it surely is. */
function sidesOf(
  { at, rung }: Option,
  { mainSide, signedOff }: DecisionContext,
): Pick<Dose, 'sides' | 'first'> {
  const signed = signedOff?.get(at.checkpoint) ?? {};
  const open = ([mainSide, otherSide(mainSide)] as const).filter((side: Side) => (signed[side] ?? -1) < rung);
  if (open.length === 1) return { sides: open[0]!, first: open[0]! };
  return { sides: 'both', first: isWorse(at) ? otherSide(mainSide) : mainSide };
}

const isWorse = ({ sideGap }: Option['at']): boolean => sideGap !== null && sideGap > sideGapAbove;

/** The share of the reps from a place on that is expected to get as far as another one: as often as this student does. */
const shareTo = ({ checkpoints }: Reading, from: number, to: number): number =>
  checkpoints.slice(from, to).reduce((share, { hazard }) => share * (1 - hazard.value), 1);

/** Reps of a test in one class at most. */
const mostTested = 10;

/** The sign that replaces reps at a checkpoint: a measure first, then a feel, then a look. */
export function signOf({ checkpoints }: Pick<Breakdown, 'checkpoints'>, checkpoint: Id): Sign | null {
  const at = checkpoints.find(({ id }) => id === checkpoint);
  if (at?.tolerance && !isRelation(at.tolerance))
    return { by: 'measure', text: toleranceWords(at.tolerance) };
  const told = at?.proofs.filter(({ shows = 'holds', text }) => shows === 'holds' && text !== '') ?? [];
  const [first] = (['feel', 'measure', 'see', 'ask'] as const).flatMap((by) =>
    told.filter((proof) => proof.by === by),
  );
  return first ? { by: first.by, text: first.text } : null;
}

/**
 * The dose: how much, on which sides, from where to where, and what proves that it worked. Reps that would load either of the
 * two more often than the caps of a class allow end before the load; if the corrected checkpoint is under load itself,
 * there are fewer reps. Where they end before the failure would show they are for learning, and others test it.
 */
export function doseOf(
  breakdown: Breakdown,
  reading: Reading,
  option: Option,
  known: DecisionContext,
): { dose: Dose; proof: SignOffBy; rules: RuleFired[] } {
  const { at, rung } = option;
  const place = placeOf(breakdown, at.checkpoint);
  const { sides, first } = sidesOf(option, known);
  const startAt = startOf(reading, at);
  const drill = known.drills?.find(({ id }) => id === option.drill);
  const whole = breakdown.checkpoints.length - 1;
  const drillTo = drill === undefined ? whole : lastOf(drill, breakdown, place);
  const ends = drillTo < whole;
  const rules: RuleFired[] = [
    ...(sides !== 'both' ? ['one side is signed off' as const] : []),
    ...(sides === 'both' && isWorse(at) ? ['the worse side first' as const] : []),
    ...(startAt ? ['starts here because few get this far' as const] : []),
  ];
  const dose: Dose = {
    ...usual,
    rung,
    sides,
    first,
    startAt,
    endAt: ends ? breakdown.checkpoints[drillTo]!.id : null,
  };
  const begin = startAt === null ? 0 : place;
  const capTo = (last: number) =>
    known.load
      ? capOf(breakdown, reading, known.load, rung, begin, last)
      : { allowed: Infinity, loadsFrom: last };
  const { allowed, loadsFrom } = capTo(drillTo);
  const onSides = sides === 'both' ? 2 : 1;
  if (usual.reps * usual.sets * onSides > allowed) {
    if (loadsFrom > place) {
      dose.endAt = breakdown.checkpoints[loadsFrom - 1]!.id;
      rules.push('stops before it loads');
    } else {
      dose.sets = allowed >= usual.reps * onSides ? Math.floor(allowed / (usual.reps * onSides)) : 1;
      dose.reps = Math.min(usual.reps, Math.max(1, Math.floor(allowed / (dose.sets * onSides))));
      rules.push('fewer because it loads');
    }
  } else if (ends) rules.push('stops here because the drill does');
  const mostly = mostlyAt(reading, at.checkpoint);
  const allowedTo = (to: number) => capTo(to).allowed;
  const proof = proofOf(breakdown, { checkpoint: at.checkpoint, ...mostly, ...dose }, allowedTo);
  return { dose, proof, rules };
}

/**
 * What proves a correction: its own reps where they go as far as the failure would show; else as many others as are allowed
 * so far; else a sign. Alone, nothing shows that needs a partner to get there.
 */
function proofOf(
  breakdown: Breakdown,
  terms: Corrected & Pick<Terms, 'rung' | 'endAt'>,
  allowedTo: (place: number) => number,
): SignOffBy {
  const { checkpoint, rung, endAt } = terms;
  const showsAt = provedAt(breakdown, terms);
  const shows = breakdown.checkpoints[showsAt]!.id;
  const end = endAt === null ? breakdown.checkpoints.length - 1 : placeOf(breakdown, endAt);
  const alone = rung === 0 && showsAt > placeOf(breakdown, checkpoint);
  if (end >= showsAt && !alone) return { by: 'dose', shows };
  const reps = alone ? 0 : Math.min(mostTested, Math.floor(allowedTo(showsAt)));
  return reps > 0 ? { by: 'test', shows, reps } : { by: 'sign', shows, sign: signOf(breakdown, checkpoint) };
}

/**
 * How many reps between two places the caps of a class are expected to allow, and from where on they load; as many as one likes
 * where none loads anybody. Of the two people the one whose cap is the tighter.
 */
function capOf(
  breakdown: Breakdown,
  reading: Reading,
  { technique, caps }: NonNullable<DecisionContext['load']>,
  rung: Dose['rung'],
  from: number,
  to: number,
): { allowed: number; loadsFrom: number } {
  const on = (whom: Whom) => {
    const first = firstLoad(breakdown, technique, whom, caps.counts);
    const [tightest] = capsOn(unexposed, technique, rung, caps, whom);
    const allowed = tightest && first <= to ? tightest.cap / shareTo(reading, from, first) : Infinity;
    return { allowed, loadsFrom: first };
  };
  const [partner, student] = [on('partner'), on('student')];
  return student.allowed < partner.allowed ? student : partner;
}

type Load = NonNullable<DecisionContext['load']>;

/** Reps of a class that the caps allow as far as a place, if all of them go so far; as many as one likes before a load. */
const roomTo = (breakdown: Breakdown, { technique, caps }: Load, rung: Dose['rung'], to: number): number =>
  Math.min(
    ...(['partner', 'student'] as const).map((whom) => {
      const [tightest] = capsOn(unexposed, technique, rung, caps, whom);
      return tightest && firstLoad(breakdown, technique, whom, caps.counts) <= to ? tightest.cap : Infinity;
    }),
  );

/** Terms with what proves them; by a sign where nobody may be loaded (null) and their reps end before it would show. */
export const withProof = (breakdown: Breakdown, load: Load | null, terms: Terms): Terms => ({
  ...terms,
  proof: proofOf(breakdown, terms, (to) => (load ? roomTo(breakdown, load, terms.rung, to) : 0)),
});

/** Terms within the caps of a class: their reps end before the load, or, where the checkpoint is under load itself, are fewer. */
function withinCaps(breakdown: Breakdown, load: Load, terms: Terms): Terms {
  const { checkpoint, rung, sides } = terms;
  const whole = breakdown.checkpoints.length - 1;
  const room = roomTo(breakdown, load, rung, terms.endAt === null ? whole : placeOf(breakdown, terms.endAt));
  if (repsOf(terms) <= room) return terms;
  const from = Math.min(
    ...(['partner', 'student'] as const).map((whom) =>
      firstLoad(breakdown, load.technique, whom, load.caps.counts),
    ),
  );
  if (from > placeOf(breakdown, checkpoint)) return { ...terms, endAt: breakdown.checkpoints[from - 1]!.id };
  const aSide = Math.floor(room / (sides === 'both' ? 2 : 1));
  return { ...terms, sets: 1, reps: Math.max(1, Math.min(terms.reps, aSide)) };
}

/** Those terms for another checkpoint: its usual mistake, with that one's cue and drill; the dose and the caps stay. */
export function termsElsewhere(
  breakdown: Breakdown,
  drills: readonly Drill[],
  load: Load,
  { rung, sides, first, reps, sets }: Terms,
  checkpoint: Id,
): Terms {
  const usualAt = breakdown.mistakes
    .filter(({ root }) => root === checkpoint)
    .reduce<Mistake | null>((a, b) => (a === null || b.priorShare > a.priorShare ? b : a), null);
  const mistake = usualAt?.id ?? null;
  const wanted = { checkpoint, mistake, defence: null };
  const own = ownDrillOf(breakdown, mistake, drills);
  const [near] = drillsFor(drills, breakdown, wanted, rung);
  const terms = withinCaps(breakdown, load, {
    checkpoint,
    mistake,
    defence: null,
    cue: usualAt?.cue ?? '',
    drill: near && (near.near === 3 || own === null) ? near.drill.id : null,
    rung,
    sides,
    first,
    reps,
    sets,
    startAt: null,
    endAt: null,
  });
  return withProof(breakdown, load, terms);
}
