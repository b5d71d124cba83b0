import type { MeasuredFact, Student } from './student';

/**
 * Lengths as shares of the stature, for people not measured: the hip joint is at 0.530 of it and a hand is 0.108 long
 * (Drillis and Contini 1966, as printed in Winter, Biomechanics and Motor Control of Human Movement, figure 4.1); an
 * arm span is about the stature (common practice). A person may be far from them: an estimate is marked as one, and
 * never chooses a variant.
 */
const sharesOfStature = {
  armSpanCm: 1,
  legLengthCm: 0.53,
  handLengthCm: 0.108,
} as const satisfies Partial<Record<MeasuredFact, number>>;
export type EstimatedFact = keyof typeof sharesOfStature;

/** A length that nobody has measured, by the stature, in whole centimetres; null where it is measured, or the stature is not. */
export const estimated = (
  student: Pick<Student, EstimatedFact | 'statureCm'>,
  of: EstimatedFact,
): number | null =>
  student[of] === null && student.statureCm !== null
    ? Math.round(student.statureCm * sharesOfStature[of])
    : null;
