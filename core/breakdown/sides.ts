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

/** The words "right" and "left" that stand outside a token, and so would not mirror. "Right angle" is no side. */
export const bareSideWords = (text: string): string[] =>
  [...text.replace(token, '').matchAll(/\b(right|left)\b(?!\s+angles?\b)(?! away\b)/gi)].map(([word]) =>
    word.toLowerCase(),
  );
