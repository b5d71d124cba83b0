import type { Side } from './ids';

const token = /\{(right|left)\}/g;
const other = { right: 'left', left: 'right' } as const;

/** The side opposite to the given one. */
export const otherSide = (side: Side): Side => other[side];

/**
 * Text as it reads for a lead side. Breakdowns are written for a right lead with `{right}` and `{left}` tokens;
 * for a left lead every token is mirrored. Near, far, top and bottom never mirror.
 */
export const readFor = (text: string, lead: Side): string =>
  text.replace(token, (_, side: Side) => (lead === 'right' ? side : other[side]));

/** The same text written for the other lead side: every token swapped. Twice is the identity. */
export const mirror = (text: string): string => text.replace(token, (_, side: Side) => `{${other[side]}}`);
