import { type Breakdown, type Id, placeOf, type Side } from '../breakdown';
import { observingRoot, type Rep, type Rung } from '../rep';

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

/** What reps say of a checkpoint as a root, at a rung or above and on the sides accepted; with the rep that says it. */
export function* saidAtRoot(
  editions: readonly Breakdown[],
  reps: readonly Rep[],
  { checkpoint, rung, sides = 'both' }: { checkpoint: Id; rung: Rung; sides?: 'both' | Side | undefined },
): Generator<{ rep: Rep; held: boolean }> {
  for (const rep of reps) {
    const edition = editions.find((one) => one.edition === rep.edition);
    if (!edition || rep.technique !== edition.technique || rep.rung < rung) continue;
    if (sides !== 'both' && rep.side !== sides) continue;
    const seen = observingRoot(edition, rep)(placeOf(edition, checkpoint));
    if (seen === 'held' || seen === 'failed') yield { rep, held: seen === 'held' };
  }
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
