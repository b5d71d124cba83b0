import { type Answer, answersOf, type Breakdown } from '../breakdown';
import type { Correction } from './prescription';
import type { Stood, Terms } from './step';

/** A correction as it is proposed. Its cue belongs to the mistake, or is the answer where the partner usually ends it. */
export function termsOf(breakdown: Breakdown, correction: Correction): Terms {
  const { checkpoint, mistake, defence, drill, dose, proof } = correction;
  const { rung, sides, first, reps, sets, startAt, endAt } = dose;
  const cue =
    answerOf(breakdown, correction)?.how ?? breakdown.mistakes.find(({ id }) => id === mistake)?.cue ?? '';
  return { checkpoint, mistake, defence, cue, drill, rung, sides, first, reps, sets, startAt, endAt, proof };
}

/** The answer that a correction names; undefined where it names none. */
export const answerOf = (
  breakdown: Pick<Breakdown, 'defences'>,
  { answer }: Pick<Correction, 'answer'>,
): Answer | undefined => {
  const defence = breakdown.defences.find(({ id }) => id === answer?.defence);
  return defence && answersOf(defence).find(({ id }) => id === answer!.answer);
};

/** The numbers behind it, saved with it. */
export const stoodOn = ({ reached, failed, hazard, target }: Correction): Stood => ({
  reached,
  failed,
  hazard,
  target,
});
