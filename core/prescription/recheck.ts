import { createEmptyCard, fsrs, type Grade, Rating } from 'ts-fsrs';

/** The share of owned checkpoints that a recheck should still find held when it is due. */
export const rechecked = { retention: 0.85, fewestReps: 3 } as const;
/** Under this hold rate what was signed off has lapsed. */
const lapsedUnder = 0.6;

const scheduler = fsrs({
  request_retention: rechecked.retention,
  enable_fuzz: false,
  // A class is no flash card: nothing is looked at again within minutes.
  enable_short_term: false,
});

/** How a look at something signed off went: its hold rate, 0…1, as a grade of the scheduler. */
const gradeOf = (hold: number): Grade =>
  hold < lapsedUnder ? Rating.Again : hold < 0.75 ? Rating.Hard : hold < 0.9 ? Rating.Good : Rating.Easy;

/** One look: when, how many reps showed the checkpoint, and how many held. */
export interface Look {
  at: string;
  seen: number;
  held: number;
}

export interface Recheck {
  /** When it is due next, an instant. */
  due: string;
  /** The looks that were due, in order; the sign-off itself is not one. */
  looks: readonly Look[];
  lapsed: boolean;
}

/**
 * When to look again at what was signed off at an instant, given the days on which it was seen since, in order. A day
 * counts once the look is due and three reps have shown the checkpoint; nothing has to be filled in. After a lapse nothing
 * more is due. The intervals are the FSRS algorithm’s, by `ts-fsrs`.
 */
export function recheckOf(signedOff: string, days: readonly Look[]): Recheck {
  let card = scheduler.next(createEmptyCard(signedOff), signedOff, Rating.Good).card;
  const looks: Look[] = [];
  for (const day of days) {
    if (day.seen < rechecked.fewestReps || Date.parse(day.at) < card.due.getTime()) continue;
    looks.push(day);
    const grade = gradeOf(day.held / day.seen);
    card = scheduler.next(card, day.at, grade).card;
    if (grade === Rating.Again) return { due: card.due.toISOString(), looks, lapsed: true };
  }
  return { due: card.due.toISOString(), looks, lapsed: false };
}
