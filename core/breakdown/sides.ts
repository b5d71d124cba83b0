import type { Side } from './ids';

const token = /\{(right|left|Right|Left)\}/g;
const other = { right: 'left', left: 'right', Right: 'Left', Left: 'Right' } as const;

/** The side opposite to the given one. */
export const otherSide = (side: Side): Side => other[side];

/**
 * Text as it reads for a lead side. Breakdowns are written for a right lead with `{right}` and `{left}` tokens;
 * for a left lead every token is mirrored. Near, far, top and bottom never mirror.
 */
export const readFor = (text: string, lead: Side): string =>
  text.replace(token, (_, side: keyof typeof other) => (lead === 'right' ? side : other[side]));

/** The same text written for the other lead side: every token swapped. Twice is the identity. */
export const mirror = (text: string): string =>
  text.replace(token, (_, side: keyof typeof other) => `{${other[side]}}`);

/** What "right" and "left" mean where they are no side: "a right angle", "right away", "no way left", "is left over". */
const noSide =
  /\bright(?= (?:angles?|away|now|then|there|here|after|before|when|where|under|behind|in front|on top|next to|at|up|down|in|out|through|into|against|beside|above|below|past|amount|moment|time|way|order|distance|height)\b)|\b(?:all|just|quite|not|get|gets|is|are|that['’]s|looks?|feels?) right(?= *(?:[.,;!?]|$))|\b(?:no|any|only|some|nothing|way|room|space|time|option|what|all|who|is|are|was|be|has|have|had|one|two|three|reps?|seconds?|minutes?|fingers?)(?: \w+)? left(?= *(?:[.,;!?)]|$|over\b|to\b|in\b|for\b|until\b))|\bwhat(?:['’]s| is| was) left\b|\bleft(?= (?:over|behind|out|alone|open|free|undone|hanging)\b)/gi;

/** Text as somebody wrote it for a right lead side, with its sides as tokens, so that it reads for a left lead as well. */
export const withTokens = (text: string): string =>
  text.replace(
    new RegExp(`${token.source}|${noSide.source}|\\b(right|left)\\b`, 'gi'),
    (found, _token: string | undefined, word: string | undefined) =>
      word === undefined ? found : `{${word}}`,
  );

/** The words "right" and "left" that stand outside a token, mean a side, and so would not mirror. */
export const bareSideWords = (text: string): string[] =>
  [
    ...text
      .replace(token, '')
      .replace(noSide, '')
      .matchAll(/\b(right|left)\b/gi),
  ].map(([word]) => word.toLowerCase());
