import { type Breakdown, type Id, isRelation, isWithin, type Measured, placeOf } from '../breakdown';
import { observing } from './observe';
import type { Rep } from './rep';

/** A value outside its tolerance at a checkpoint that held: the rep stays, and somebody is asked which of the two is right. */
export interface OddMeasure {
  checkpoint: Id;
  value: number;
  tolerance: Measured;
}

/** The range in which a rep had to be at a checkpoint: that of the variant that it used, or the checkpoint's; null where it has none. */
export function toleranceOf(
  { tolerance, variants }: Breakdown['checkpoints'][number],
  { ways = [] }: Pick<Rep, 'ways'>,
): Measured | null {
  const own = variants.find((one) => one.tolerance && ways.includes(one.id))?.tolerance ?? tolerance;
  return own && !isRelation(own) ? own : null;
}

/** The measured values of a rep that contradict how it went; the variant that was used may have a tolerance of its own. */
export function oddMeasuresOf(breakdown: Breakdown, rep: Rep): OddMeasure[] {
  const at = observing(breakdown, rep);
  return (rep.measured ?? []).flatMap(({ checkpoint: id, value }) => {
    const place = placeOf(breakdown, id);
    const checkpoint = breakdown.checkpoints[place];
    if (!checkpoint || at(place) !== 'held') return [];
    const tolerance = toleranceOf(checkpoint, rep);
    return tolerance && !isWithin(tolerance, value) ? [{ checkpoint: id, value, tolerance }] : [];
  });
}
