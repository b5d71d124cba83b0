import { answersOf, type Breakdown, fundamentalsOf, type Id } from '../breakdown';
import { type Beta, betaQuantile, type Estimate, tails } from '../math';
import { type CheckpointReading, fewestReps, type Reading } from '../reading';
import type { Rung } from '../rep';
import { doseOf, minutesOf } from './dose';
import {
  type AnswerTried,
  bodyWaysAt,
  type DecisionContext,
  fixedAt,
  highestDosed,
  learningRung,
  mostlyAt,
  type Option,
  optionAt,
  ownDrillOf,
  showsFor,
} from './options';
import { goesOn } from './going-on';
import { isOpen } from './lifecycle';
import type { Candidate, Correction, InWork as Work, Prescription, Reason, RuleFired } from './prescription';

type InWork = NonNullable<Work>;
import { signOff } from './signoff';
import { drilledHold, taught } from './value';
import { startOf } from './unsure';

/** A fundamental that breaks more often than this comes before what depends on it. */
const fundamentalsFirstAbove = 0.35;
/** It is clear what comes first where it is expected to bring this share of the best gain there is… */
const clearPromise = 0.5;
/** …and is this surely above its target. */
const clearlyAbove = 0.9;
/** What a good student loses at a root at least: common practice. Losses that this chance would explain are watched. */
const goodLoses = 0.1;
/** Under this gain of the finish rate nothing is worth a correction. */
const leastGain = 0.02;
/** The most rejected candidates that a reason lists. */
const mostTold = 5;
/** More reps than this are not asked for at once. */
const mostWatched = 30;

/**
 * The one thing to do next for a student on a technique: the checkpoint at which a dose brings the finish rate most per
 * minute, but first a fundamental of it that itself breaks too often. It is said where it is clear, not where an interval is
 * narrow: see `clearPromise` and `clearlyAbove`. Where nothing the student did points at a checkpoint, it is never corrected.
 */
export function prescribe(breakdown: Breakdown, reading: Reading, known: DecisionContext): Prescription {
  const now = nextFor(breakdown, reading, known);
  const { inWork } = known;
  if (!inWork || !isOpen(inWork)) return now;
  const { state, terms } = inWork;
  return {
    ...now,
    inWork: {
      checkpoint: terms.checkpoint,
      rung: terms.rung,
      state: state as InWork['state'],
      stays: goesOn(inWork, now),
    },
  };
}

/** The same, whatever the student works on. */
function nextFor(breakdown: Breakdown, reading: Reading, known: DecisionContext): Prescription {
  const { checkpoints } = reading;
  const options = checkpoints
    .map((at) => optionAt(breakdown, reading, at, known))
    .sort((a, b) => b.rise - a.rise);
  const open = options.filter(({ lostBy }) => lostBy === null);
  const next = options.find(({ lostBy }) => lostBy === null || lostBy === 'nothing to gain');
  const none = {
    kind: 'none',
    reps: reading.reps,
    onwards: next ? { checkpoint: next.checkpoint, rung: next.rung } : null,
  } as const;
  const unknown = checkpoints.some(({ enough }) => !enough);
  const best = open[0];
  const promising = open.reduce((a, b) => (a && a.promise >= b.promise ? a : b), best);
  // What either of the two depends on comes before it.
  const before = [best, promising].flatMap((waits) => {
    const found =
      waits &&
      fundamentalsOf(breakdown, waits.checkpoint)
        .map((id) => open.find(({ checkpoint }) => checkpoint === id))
        .find((one) => one && one.at.hazard.value > fundamentalsFirstAbove && isAbove(one.at));
    return waits && found ? [{ waits, fundamental: found }] : [];
  })[0];
  const fundamental = before?.fundamental;
  const chosen = fundamental ?? (best && isClear(best.at) ? best : undefined);
  if (chosen && best) {
    if (chosen.at.rootGain.value < leastGain && !unknown) return none;
    const insteadOf = before?.waits ?? null;
    const rest = options.filter((one) => one !== chosen);
    return correction(breakdown, reading, chosen, insteadOf, rest, known);
  }
  if (!unknown && open.every(({ at }) => at.rootGain.value < leastGain)) return none;
  // What most likely comes first: a few reps more there settle whether it does.
  const watchable =
    open.length > 0
      ? open.map(({ at }) => at)
      : checkpoints.filter(({ enough, checkpoint }) => !enough && !known.declined?.has(checkpoint));
  if (watchable.length === 0) return none;
  const watched = watchable.reduce((a, b) => (b.promise > a.promise ? b : a));
  return {
    kind: 'watch',
    checkpoint: watched.checkpoint,
    reached: watched.atRoot.reached,
    failed: watched.atRoot.failed,
    more: moreToDecide(watched),
    rung: learningRung(watched, known.may, showsFor(breakdown, reading, watched.checkpoint)),
    startAt: startOf(reading, watched),
  };
}

/** Clearly above its target, by more reps of the student's own than the squad's rate is worth, and more of them lost than chance loses. */
const isAbove = ({ atRoot: { above, reached, failed, target } }: CheckpointReading): boolean =>
  above >= clearlyAbove &&
  reached >= fewestReps &&
  asManyByChance(failed, reached, Math.max(target, goodLoses)) <= 1 - clearlyAbove;

/** P(at least this number of n | each is lost with this chance): the upper tail of a binomial. */
function asManyByChance(failed: number, n: number, chance: number): number {
  let [term, below] = [(1 - chance) ** n, 0];
  for (let k = 0; k < failed; k++) {
    below += term;
    term *= ((n - k) / (k + 1)) * (chance / (1 - chance));
  }
  return Math.max(0, 1 - below);
}

const isClear = (at: CheckpointReading): boolean => at.promise >= clearPromise && isAbove(at);

function correction(
  breakdown: Breakdown,
  reading: Reading,
  chosen: Option,
  insteadOf: Option | null,
  rest: readonly Option[],
  known: DecisionContext,
): Prescription {
  const { may = () => true } = known;
  const { at, rung } = chosen;
  // With the shares that the choice was made by, so that the words cannot say another thing than the numbers.
  const fixed = fixedAt(reading, at.checkpoint);
  const main = fixed[0];
  const mostly = mostlyAt(reading, at.checkpoint);
  const { atRoot } = at;
  const dosed = doseOf(breakdown, reading, chosen, known);
  const drill = known.drills?.find(({ id }) => id === chosen.drill);
  const tried = atRoot.tried.at(-1)?.rung ?? 0;
  const { shows } = dosed.proof;
  const wouldBe = (other: Rung) => taught(drilledHold(at, other, shows)) > taught(chosen.hold);
  const rules: RuleFired[] = [
    ...(insteadOf ? ['fundamentals first' as const] : []),
    ...(rung === tried + 1 && rung < highestDosed && wouldBe((rung + 1) as Rung)
      ? ['one rung above the highest tried at most' as const]
      : []),
    ...(rung < highestDosed && !may((rung + 1) as Rung) ? ['the house allows no higher rung' as const] : []),
    ...(rung === highestDosed && wouldBe(4) ? ['never free sparring' as const] : []),
    ...dosed.rules,
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
                ? 'depends on it'
                : one.rise > chosen.rise && !isClear(one.at)
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
    reached: atRoot.shown.find(({ at: shows }) => shows === dosed.proof.shows)!.reached,
    failed: atRoot.failed,
    failedHere: at.failed,
    open: atRoot.open,
    hazard: atRoot.hazard,
    here: at.hazard,
    leak: at.leak,
    gain: at.rootGain,
    target: atRoot.target,
    finishRate: reading.finishRate.value,
    insteadOf: insteadOf?.checkpoint ?? null,
    symptom: main && main.checkpoint !== at.checkpoint ? main.checkpoint : null,
    ...mostly,
    answer: mostly.defence === null ? null : answerTo(breakdown, mostly.defence, known),
    way: bodyWaysAt(breakdown, at.checkpoint, known.pairing)[0]?.id ?? null,
    toldBy: fixed.some(({ stops }) => stops > 0) ? 'own tags' : 'others',
    dose: dosed.dose,
    drill: chosen.drill,
    ownDrill: drill ? null : ownDrillOf(breakdown, mostly.mistake, known.drills ?? []),
    minutes: minutesOf(dosed.dose, drill),
    proof: dosed.proof,
    reason,
    heldInARow: signOff([]).heldInARowToSettle,
  };
}

/** The answer to a defence that works best here, of those that were tried often enough to say; else the first that is recorded. */
function answerTo(
  breakdown: Breakdown,
  id: Id,
  { answers }: Pick<DecisionContext, 'answers'>,
): NonNullable<Correction['answer']> {
  const recorded = answersOf(breakdown.defences.find((one) => one.id === id)!).map((one) => one.id);
  const known = (answers?.get(id) ?? []).filter(
    ({ answer, tried }) => tried >= fewestReps && recorded.includes(answer),
  );
  // Two of four before anybody has tried, as where answers are read.
  const works = ({ tried, worked }: AnswerTried) => (worked + 2) / (tried + 4);
  const [first, ...rest] = known;
  if (!first) return { defence: id, answer: recorded[0] ?? null, known: null };
  const { answer, tried, worked } = rest.reduce((a, b) => (works(b) > works(a) ? b : a), first);
  return { defence: id, answer, known: { tried, worked } };
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
