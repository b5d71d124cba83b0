import { type Breakdown, otherSide, placeOf, type Side } from '../breakdown';
import { capsOn, loadedFrom, unexposed, type Whom } from '../care';
import { type Drill, nearness } from '../drills';
import { type Reading, sideGapAbove } from '../reading';
import { type DecisionContext, type Option, usualMinutes } from './options';
import type { Correction, RuleFired } from './prescription';
import type { Terms } from './step';
import { startOf } from './unsure';

type Dose = Correction['dose'];

/** Common practice: ten each side, then swap. */
const usual = { reps: 10, sets: 2 } as const;

/** Reps of a dose, on all its sides. */
const repsOf = ({ sets, reps, sides }: Pick<Dose, 'sets' | 'reps' | 'sides'>): number =>
  sets * reps * (sides === 'both' ? 2 : 1);

/** Whole minutes that a dose takes: those of its drill, if it is made for this, for the usual dose; more or less for another. */
export function minutesOf(
  breakdown: Breakdown,
  terms: Pick<Terms, 'checkpoint' | 'mistake' | 'defence' | 'sets' | 'reps' | 'sides'>,
  drill: Drill | undefined,
): number {
  const isMadeForIt = drill !== undefined && nearness(drill, breakdown, terms) > 1;
  const minutes = isMadeForIt ? drill.minutes : usualMinutes;
  return Math.max(1, Math.round((minutes * repsOf(terms)) / repsOf({ ...usual, sides: 'both' })));
}

/** Drills that end where the point is made: nothing after it is done. */
const endsThere: ReadonlySet<Drill['kind']> = new Set(['isolation', 'timed hold']);

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

/**
 * The dose: how much, on which sides, from where to where. Reps that would load either of the two more often than the
 * caps of a class allow end before the load; if the corrected checkpoint is under load itself, there are fewer reps.
 */
export function doseOf(
  breakdown: Breakdown,
  reading: Reading,
  option: Option,
  known: DecisionContext,
): { dose: Dose; rules: RuleFired[] } {
  const { at, rung } = option;
  const place = placeOf(breakdown, at.checkpoint);
  const { sides, first } = sidesOf(option, known);
  const startAt = startOf(reading, at);
  const drill = known.drills?.find(({ id }) => id === option.drill);
  const ends = drill !== undefined && endsThere.has(drill.kind);
  const rules: RuleFired[] = [
    ...(sides !== 'both' ? ['one side is signed off' as const] : []),
    ...(sides === 'both' && isWorse(at) ? ['the worse side first' as const] : []),
    ...(startAt ? ['starts here because few get this far' as const] : []),
  ];
  const dose: Dose = { ...usual, rung, sides, first, startAt, endAt: ends ? at.checkpoint : null };
  const last = ends ? place : breakdown.checkpoints.length - 1;
  const { allowed, loadsFrom } = known.load
    ? capOf(breakdown, reading, known.load, rung, startAt === null ? 0 : place, last)
    : { allowed: Infinity, loadsFrom: last };
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
  return { dose, rules };
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
    const { first } = loadedFrom(breakdown, technique, whom);
    const [tightest] = capsOn(unexposed, technique, rung, caps, whom);
    const allowed = tightest && first <= to ? tightest.cap / shareTo(reading, from, first) : Infinity;
    return { allowed, loadsFrom: first };
  };
  const [partner, student] = [on('partner'), on('student')];
  return student.allowed < partner.allowed ? student : partner;
}
