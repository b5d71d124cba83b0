import type { endpoints, InputOf } from '@ulkret/contract';
import { type Breakdown, numberOf } from '@ulkret/core/breakdown';
import type { Settings } from './settings';

/** What was chosen on a technique, asked with the settings of the page. */
export const choicesQuery = (
  technique: string,
  { reads: { slice, period } }: Settings,
): InputOf<typeof endpoints.choices>['query'] => ({
  technique,
  asOf: period.asOf,
  weeks: period.weeks,
  rung: slice.rung ?? undefined,
  side: slice.side ?? undefined,
  partner: slice.partner ?? undefined,
});

/** The number of a checkpoint; 0 where it is of another technique. */
export const numberIn = (breakdown: Breakdown) => (checkpoint: string, technique: string) =>
  technique === breakdown.technique ? numberOf(breakdown, checkpoint) : 0;
