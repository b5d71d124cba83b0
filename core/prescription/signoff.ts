import { type Breakdown, isRelation, isWithin, placeOf, type Side } from '../breakdown';
import { type Corrected, observingRoot, provedAt, type Rep, type Rung } from '../rep';
import type { SignOffBy } from './step';

/** Wald's sequential probability ratio test of "owned" against "not yet". Rates are hold rates, errors are probabilities. */
export const signOffTest = {
  notYet: 0.6,
  owned: 0.85,
  falseSignOff: 0.1,
  falseStepBack: 0.1,
  longest: 30,
} as const;

const { notYet, owned, falseSignOff, falseStepBack, longest } = signOffTest;

/** Log-likelihood ratio of one held and of one failed rep, and the bounds at which the test decides. Wald, Sequential Analysis (1947). */
export const signOffSteps = {
  held: Math.log(owned / notYet),
  failed: Math.log((1 - owned) / (1 - notYet)),
  upper: Math.log((1 - falseStepBack) / falseSignOff),
  lower: Math.log(falseStepBack / (1 - falseSignOff)),
} as const;

export type SignOffState = 'signed off' | 'step back' | 'open';

export interface SignOff {
  state: SignOffState;
  /** Reps that the test looked at; it stops looking once it has decided. */
  seen: number;
  ratio: number;
  /** Held in a row that would sign it off from here; 0 once decided. */
  heldInARowToSettle: number;
}

/**
 * The state of the test after held (true) and failed (false) reps at the prescribed checkpoint, in order.
 * At 30 reps without a bound reached, the sign of the ratio decides.
 */
export function signOff(held: readonly boolean[]): SignOff {
  const { upper, lower } = signOffSteps;
  let ratio = 0;
  let seen = 0;
  for (const one of held) {
    ratio += one ? signOffSteps.held : signOffSteps.failed;
    seen++;
    const decided = seen === longest ? (ratio > 0 ? upper : lower) : ratio;
    if (decided >= upper) return { state: 'signed off', seen, ratio, heldInARowToSettle: 0 };
    if (decided <= lower) return { state: 'step back', seen, ratio, heldInARowToSettle: 0 };
  }
  const toBound = Math.ceil((upper - ratio) / signOffSteps.held);
  const toEnd = longest - seen;
  const atEnd = ratio + toEnd * signOffSteps.held > 0 ? toEnd : Infinity;
  return { state: 'open', seen, ratio, heldInARowToSettle: Math.min(toBound, atEnd) };
}

/** What a correction is about, as reps are looked at for it. */
export interface LookedFor extends Corrected {
  rung: Rung;
  sides?: 'both' | Side | undefined;
  proof?: SignOffBy | undefined;
}

/**
 * What reps say of a correction, at its rung or above and on its sides, with the rep that says it: whether it held at the root,
 * as far as the failure would show; or, where it is a measured sign that tells, whether that was within its range.
 */
export function* saidAtRoot(
  editions: readonly Breakdown[],
  reps: readonly Rep[],
  { rung, sides = 'both', proof, ...what }: LookedFor,
): Generator<{ rep: Rep; held: boolean }> {
  for (const rep of reps) {
    const edition = editions.find((one) => one.edition === rep.edition);
    if (!edition || rep.technique !== edition.technique || rep.rung < rung) continue;
    if (sides !== 'both' && rep.side !== sides) continue;
    const place = placeOf(edition, what.checkpoint);
    if (place < 0) continue;
    const held =
      proof?.by === 'sign' ? measuredWell(edition, rep, place) : heldAsFarAs(edition, rep, place, what);
    if (held !== null) yield { rep, held };
  }
}

function heldAsFarAs(edition: Breakdown, rep: Rep, place: number, what: Corrected): boolean | null {
  const seen = observingRoot(edition, rep)(place, provedAt(edition, what));
  return seen === 'held' || seen === 'failed' ? seen === 'held' : null;
}

/** Was what a rep measured at a checkpoint within its range? Null where it measured nothing there. */
function measuredWell({ checkpoints }: Breakdown, { measured = [] }: Rep, place: number): boolean | null {
  const { id, tolerance } = checkpoints[place]!;
  const found = measured.find(({ checkpoint }) => checkpoint === id);
  return found && tolerance && !isRelation(tolerance) ? isWithin(tolerance, found.value) : null;
}

/** The state of the test in a few words: what would settle it, or what it said. */
export function signOffWords({ state, seen, heldInARowToSettle }: SignOff): string {
  if (state === 'signed off') return `Signed off after ${seen}.`;
  if (state === 'step back') return `Too hard: one rung down, or an easier drill.`;
  if (!Number.isFinite(heldInARowToSettle)) return 'Not today: one rung down.';
  return `${heldInARowToSettle} ${seen === 0 ? 'held' : 'more held'} in a row signs it off.`;
}

/** The same as a mark next to a checkpoint. */
export const signOffShort = ({ state, heldInARowToSettle }: SignOff): string =>
  state === 'signed off'
    ? 'signed off'
    : state === 'step back' || !Number.isFinite(heldInARowToSettle)
      ? 'step back'
      : `hold ${heldInARowToSettle} in a row`;
