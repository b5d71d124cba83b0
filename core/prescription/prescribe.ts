import { type Breakdown, fundamentalsOf } from '../breakdown';
import { type Beta, betaQuantile, type Estimate, tails } from '../math';
import { type CheckpointReading, fewestReps, type Reading } from '../reading';
import type { Rung } from '../rep';
import { doseOf } from './dose';
import {
  bodyWaysAt,
  fixedAt,
  highestDosed,
  type DecisionContext,
  learningRung,
  type Option,
  optionAt,
} from './options';
import type { Candidate, Prescription, Reason, RuleFired } from './prescription';
import { signOff } from './signoff';
import { drilledHold, taught } from './value';
import { startOf } from './unsure';

/** A fundamental that breaks more often than this comes before what depends on it. */
const fundamentalsFirstAbove = 0.35;
/** It is clear what comes first where it is expected to bring this share of the best gain there is… */
const clearPromise = 0.5;
/** …and is this surely above its target. */
const clearlyAbove = 0.9;
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
    rung: learningRung(watched, known.may),
    startAt: startOf(reading, watched),
  };
}

/** Clearly above its target, by more reps of the student's own than the squad's rate is worth. */
const isAbove = ({ atRoot: { above, reached } }: CheckpointReading): boolean =>
  above >= clearlyAbove && reached >= fewestReps;

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
  const { atRoot } = at;
  const dosed = doseOf(breakdown, reading, chosen, known);
  const tried = atRoot.byRung.findLast(({ reached }) => reached > 0)?.rung ?? 0;
  const wouldBe = (other: Rung) => taught(drilledHold(at, other)) > taught(chosen.hold);
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
    way: bodyWaysAt(breakdown, at.checkpoint, known.pairing)[0]?.id ?? null,
    toldBy: fixed.some(({ stops }) => stops > 0) ? 'own tags' : 'others',
    dose: dosed.dose,
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
