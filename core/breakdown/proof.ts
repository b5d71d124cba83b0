import { z } from 'zod';

/** Words of a breakdown. A draft may leave them empty; the critique asks for them before it is published. */
export const text = z.string().max(2000);

/** How one can tell that a checkpoint holds; or, where it shows the contrary, that it is broken. */
export const Proof = z.object({
  by: z.enum(['see', 'feel', 'ask', 'measure']),
  text,
  /** What the sign is a sign of; where it is left out, that it holds. */
  shows: z.enum(['holds', 'broken']).optional(),
});
export type Proof = z.infer<typeof Proof>;

/** The measured range within which a checkpoint holds, in `unit`; an end that is null is open. */
export const Measured = z.object({
  quantity: z.enum(['angle', 'distance', 'time', 'count', 'share']),
  unit: z.enum([
    'degrees',
    'centimetres',
    'finger widths',
    'hand widths',
    'seconds',
    'times',
    'percent',
    'percent of the limb from the joint',
  ]),
  low: z.number().nullable(),
  high: z.number().nullable(),
  between: text,
});
export type Measured = z.infer<typeof Measured>;

/** Where one thing must be, seen from another: the elbow, below, the line of the shoulders. */
export const Relation = z.object({
  what: text,
  is: z.enum([
    'above',
    'below',
    'in front of',
    'behind',
    'inside',
    'outside',
    'level with',
    'touching',
    'on the same side as',
  ]),
  of: text,
});
export type Relation = z.infer<typeof Relation>;

/** What is measured, or looked at with a straight edge: a range, or a relation. */
export const Tolerance = z.union([Measured, Relation]);
export type Tolerance = z.infer<typeof Tolerance>;

export const isRelation = (tolerance: Tolerance): tolerance is Relation => 'is' in tolerance;

/** The units in which each quantity is measured. */
export const unitsOf: Readonly<Record<Measured['quantity'], readonly Measured['unit'][]>> = {
  angle: ['degrees'],
  distance: ['centimetres', 'finger widths', 'hand widths'],
  time: ['seconds'],
  count: ['times'],
  share: ['percent', 'percent of the limb from the joint'],
};

/** The possible values of a measure, by unit. */
export const possibleIn: Readonly<Record<Measured['unit'], readonly [low: number, high: number]>> = {
  degrees: [-360, 360],
  centimetres: [-200, 200],
  'finger widths': [0, 20],
  'hand widths': [0, 20],
  seconds: [0, 600],
  times: [0, 1000],
  percent: [0, 100],
  'percent of the limb from the joint': [0, 100],
};

/** Is a measured value within its range? */
export const isWithin = ({ low, high }: Pick<Measured, 'low' | 'high'>, value: number): boolean =>
  (low === null || value >= low) && (high === null || value <= high);

/** A number of a unit as a coach says it: "5 degrees", "twice", "3 times". */
const amount = (value: number, unit: string): string =>
  unit !== 'times' ? `${value} ${unit}` : value === 1 ? 'once' : value === 2 ? 'twice' : `${value} times`;

/** A range in words, without what is measured: "at most 5 degrees". */
export function rangeWords({ low, high, unit }: Pick<Measured, 'low' | 'high'> & { unit: string }): string {
  if (low === null) return high === null ? `any number of ${unit}` : `at most ${amount(high, unit)}`;
  if (high === null) return `at least ${amount(low, unit)}`;
  return low === high ? amount(low, unit) : `${low} to ${high} ${unit}`;
}

/** A measured value next to its range: "12 finger widths (0 to 4 finger widths)". */
export const measureWords = (value: number, tolerance: Measured): string =>
  `${amount(value, tolerance.unit)} (${rangeWords(tolerance)})`;

/** A tolerance in words: "at most 5 degrees, shin to hip line", "elbow below the shoulder line". */
export function toleranceWords(tolerance: Tolerance): string {
  if (isRelation(tolerance)) return `${tolerance.what} ${tolerance.is} ${tolerance.of}`;
  const range = rangeWords(tolerance);
  return tolerance.between ? `${range}: ${tolerance.between}` : range;
}
