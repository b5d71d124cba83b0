import { z } from 'zod';

/** What an academy measures people in. What is stored is always kilograms and centimetres. */
export const Units = z.enum(['kg and cm', 'lb and ft']);
export type Units = z.infer<typeof Units>;

/** International avoirdupois pound and inch, exact by definition (1959). */
const kgInPound = 0.45359237;
const cmInInch = 2.54;

export type Measured = 'mass' | 'length';

/** The unit in which a number is entered. */
export const unitOf = (units: Units, of: Measured): string =>
  units === 'kg and cm' ? (of === 'mass' ? 'kg' : 'cm') : of === 'mass' ? 'lb' : 'in';

const factorOf = (units: Units, of: Measured): number =>
  units === 'kg and cm' ? 1 : of === 'mass' ? kgInPound : cmInInch;

/** A stored value as it is entered, to a tenth; and back, exactly. */
export const entered = (units: Units, of: Measured, stored: number): number =>
  Math.round((stored / factorOf(units, of)) * 10) / 10;
export const stored = (units: Units, of: Measured, value: number): number =>
  Math.round(value * factorOf(units, of) * 1000) / 1000;

/** A stored value as it is read: 72 kg, 159 lb, 178 cm, 5 ft 10 in. */
export function measuredWords(units: Units, of: Measured, value: number, locale?: string): string {
  const number = (n: number) => n.toLocaleString(locale, { maximumFractionDigits: 1 });
  if (units === 'kg and cm') return `${number(value)} ${unitOf(units, of)}`;
  if (of === 'mass') return `${number(Math.round(value / kgInPound))} lb`;
  const inches = Math.round(value / cmInInch);
  return inches < 36 ? `${inches} in` : `${Math.floor(inches / 12)} ft ${inches % 12} in`;
}
