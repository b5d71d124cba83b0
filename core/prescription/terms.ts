import type { Breakdown } from '../breakdown';
import type { Correction } from './prescription';
import type { Stood, Terms } from './step';

/**
 * A correction as it is proposed. Its cue belongs to the mistake, or is the first answer if the partner usually ends
 * it.
 */
export function termsOf(breakdown: Breakdown, correction: Correction): Terms {
  const { checkpoint, mistake, defence, drill, dose } = correction;
  const { rung, sides, first, reps, sets, startAt, endAt } = dose;
  const answer = breakdown.defences.find(({ id }) => id === defence)?.answers[0]?.how;
  const cue = answer ?? breakdown.mistakes.find(({ id }) => id === mistake)?.cue ?? '';
  return { checkpoint, mistake, defence, cue, drill, rung, sides, first, reps, sets, startAt, endAt };
}

/** The numbers behind it, saved with it. */
export const stoodOn = ({ reached, failed, hazard, target }: Correction): Stood => ({
  reached,
  failed,
  hazard,
  target,
});
