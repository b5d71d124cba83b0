import { weeksBefore } from '@ulkret/core/reading';
import type { Reads } from '../reader/use-reading';
import type { Settings } from './settings';

/** Two readings of the same student that are laid over each other, and what they are called. */
export interface Against {
  first: Reads;
  second: Reads;
  names: [string, string];
  /** How the second compares with the first: "it is lower …". */
  then: string;
  /** Which of the two the panels next to the strand show: the second, which is now, or the one that finishes less. */
  beside: 'second' | 'worse';
}

/** How many weeks back the line between before and after may lie. */
export const splitWeeks = [1, 2, 3, 4, 6] as const;
export const rungPairs = [
  [1, 2],
  [2, 3],
  [3, 4],
] as const;

/** The comparison that the address asks for, or null. */
export function againstOf({ reads, search, weekBegins }: Settings): Against | null {
  const text = search.get('against') ?? '';
  const { slice, period } = reads;
  if (text === 'sides')
    return {
      first: { ...reads, slice: { ...slice, side: 'right' } },
      second: { ...reads, slice: { ...slice, side: 'left' } },
      names: ['On the right', 'on the left'],
      then: 'on the left',
      beside: 'worse',
    };
  for (const [low, high] of rungPairs)
    if (text === `rungs-${low}-${high}`)
      return {
        first: { ...reads, slice: { ...slice, rung: low } },
        second: { ...reads, slice: { ...slice, rung: high } },
        names: [`At rung ${low}`, `at rung ${high}`],
        then: `at rung ${high}`,
        beside: 'worse',
      };
  for (const n of splitWeeks)
    if (text === `before-${n}`) {
      const now = period.asOf ?? new Date().toISOString();
      const from = weeksBefore(now, n - 1, weekBegins);
      return {
        first: { ...reads, period: { ...period, asOf: new Date(Date.parse(from) - 1).toISOString() } },
        second: { ...reads, period: { ...period, weeks: n } },
        names: ['Before', n === 1 ? 'this week' : `in the last ${n} weeks`],
        then: n === 1 ? 'this week' : `in the last ${n} weeks`,
        beside: 'second',
      };
    }
  return null;
}
