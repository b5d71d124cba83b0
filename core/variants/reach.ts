import type { Closing } from '../breakdown';
import { normalCdf } from '../math';
import { beltLength } from '../measure';
import { measuredWords, type Student, type Units } from '../people';

/** The bodies that a reach is computed from; null for unmeasured ones. */
export type Reaching = Pick<Student, 'statureCm' | 'armSpanCm' | 'legLengthCm'>;
export type Reached = Pick<Student, 'neckGirthCm' | 'armGirthCm' | 'waistGirthCm' | 'thighGirthCm'>;

/** How much longer a limb is than what it has to go round and what its lock takes, in cm, with the standard deviation of that. */
export interface Reach {
  margin: number;
  error: number;
  /** The limb was not measured: its length is estimated from the stature. */
  estimated: boolean;
}

/**
 * Limb lengths as shares of the stature: an arm from shoulder to fingertip is upper arm 0.186, forearm 0.146 and hand
 * 0.108 of it, a leg from hip to ankle thigh 0.245 and shank 0.246 (Drillis and Contini 1966, in Winter, Biomechanics
 * and Motor Control of Human Movement, figure 4.1). An arm span is about the stature (common practice), the hip joint
 * is at 0.530 of it.
 */
const shares = { arm: 0.44, leg: 0.491, hip: 0.53 } as const;
/**
 * The error of a limb's length, estimated from the stature alone, or from a measured span or leg: from memory, an
 * assumption.
 */
const errorOf = { estimated: 0.04, measured: 0.015 } as const;

function limbOf(limb: Closing['limb'], { statureCm, armSpanCm, legLengthCm }: Reaching) {
  const own = limb === 'arm' ? armSpanCm : legLengthCm && legLengthCm / shares.hip;
  const scale = own ?? statureCm;
  if (scale === null) return null;
  const length = scale * shares[limb];
  const estimated = own === null;
  return { length, estimated, error: length * (estimated ? errorOf.estimated : errorOf.measured) };
}

/** The circles that a limb goes round, side by side as they lie in it; null where one of them was not measured. */
function circlesOf(around: Closing['around'], body: Reached) {
  const girths = {
    neck: [body.neckGirthCm],
    'neck and arm': [body.neckGirthCm, body.armGirthCm],
    waist: [body.waistGirthCm],
    thigh: [body.thighGirthCm],
  }[around];
  let x = 0;
  const circles = [];
  for (const girth of girths) {
    if (girth === null) return null;
    const r = girth / (2 * Math.PI);
    x += circles.length === 0 ? 0 : r;
    circles.push({ x, y: 0, r });
    x += r;
  }
  return circles;
}

/** How far the student's limb closes around the partner: a taut belt and the lock against the limb. Null where a body is not known. */
export function reachOf(
  { limb, around, takesCm }: Closing,
  student: Reaching | null,
  partner: Reached | null,
): Reach | null {
  const own = student && limbOf(limb, student);
  const circles = partner && circlesOf(around, partner);
  if (!own || !circles) return null;
  const { length, error, estimated } = own;
  return { margin: length - beltLength(circles) - takesCm, error, estimated };
}

/** The chance that the margin is over a number of centimetres. */
export const chanceOver = ({ margin, error }: Pick<Reach, 'margin' | 'error'>, cm: number): number =>
  error > 0 ? normalCdf((margin - cm) / error) : margin > cm ? 1 : 0;

/** Whether it closes, in words with the numbers. */
export function reachWords(reach: Reach, units: Units): string {
  const length = (cm: number) => measuredWords(units, 'length', Math.round(Math.abs(cm)));
  const { margin, error, estimated } = reach;
  const closes = chanceOver(reach, 0);
  const chance = closes < 0.01 ? 'under 1 %' : closes > 0.99 ? 'over 99 %' : `${Math.round(100 * closes)} %`;
  const how = margin >= 0 ? `${length(margin)} to spare` : `${length(margin)} short`;
  return `Reach: ${how}, give or take ${length(error)}; the chance that it closes is ${chance}.${
    estimated ? ' The limb is an estimate from stature.' : ''
  }`;
}
