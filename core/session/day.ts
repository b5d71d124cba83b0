import type { Id } from '../breakdown';
import {
  type CapState,
  capsOn,
  type Editions,
  type Exposure,
  exposureOf,
  type RuleSet,
  unexposed,
  type Whom,
} from '../care';
import type { Rep, Rung } from '../rep';
import type { Technique } from '../breakdown';

/** How often a person was loaded today in other classes. A cap is of a day: a second class does not start it again. */
export interface Earlier {
  exposureOf(person: Id, whom: Whom): Exposure;
}

export const nothingEarlier: Earlier = { exposureOf: () => unexposed };

/** What the standing reps of the day's other classes come to, counted for a person when they are first asked about. */
export function earlierToday(reps: readonly Rep[], library: Editions): Earlier {
  const known = new Map<string, Exposure>();
  return {
    exposureOf(person, whom) {
      const key = `${whom} ${person}`;
      const before = known.get(key);
      if (before) return before;
      const exposure = exposureOf(library, reps, person, whom);
      known.set(key, exposure);
      return exposure;
    },
  };
}

/** A dose that would take somebody past a cap, and the largest one that would not. */
export interface TooMuch {
  person: Id;
  cap: CapState;
  /** Finishes that the dose may come to. */
  finishes: number;
  /** Reps a side that stay within the cap; 0 where none does. */
  stays: number;
}

/** In both sides of one turn. */
const sidesOfATurn = 2;

/**
 * The first cap that a dose may pass for a pair, if every rep finishes: each partner takes all reps of their attacker, on both
 * sides. Null where none can be passed.
 */
export function overTheCap(
  pair: readonly Id[],
  repsPerSide: number,
  technique: Technique,
  rung: Rung,
  { caps }: Pick<RuleSet, 'caps'>,
  earlier: Earlier,
): TooMuch | null {
  if (pair.length < 2) return null;
  const finishes = repsPerSide * sidesOfATurn;
  let worst: TooMuch | null = null;
  for (const person of pair)
    for (const cap of capsOn(earlier.exposureOf(person, 'partner'), technique, rung, caps)) {
      const room = Math.max(0, cap.cap - cap.spent);
      const stays = Math.floor(room / sidesOfATurn);
      if (finishes > room && (!worst || stays < worst.stays)) worst = { person, cap, finishes, stays };
    }
  return worst;
}
