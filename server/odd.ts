/** What no store can hold: NUL, and half of a pair of characters. */
const odd = /\0|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g;
/** How JSON writes what may be odd: in no other way can it come in. */
export const oddEscape = /\\u(0000|d[89a-f])/i;

/** Text as every store can hold it: without NUL, and with the sign for an unknown character in place of half of one. */
const wellFormed = (text: string): string =>
  text.replace(odd, (character) => (character === '\0' ? '' : '\ufffd'));

/** Makes every text in a value well-formed, however deep it lies; was there one that was not? */
export function makeWellFormed(value: object): boolean {
  const open: unknown[] = [value];
  let found = false;
  const cleanAt = (at: Record<string | number, unknown>, key: string | number) => {
    const one = at[key];
    if (typeof one === 'string') {
      found ||= one.search(odd) >= 0;
      at[key] = wellFormed(one);
    } else if (typeof one === 'object' && one !== null) open.push(one);
  };
  while (open.length > 0) {
    const at = open.pop() as Record<string | number, unknown>;
    if (Array.isArray(at)) for (let i = 0; i < at.length; i++) cleanAt(at as unknown as never, i);
    else for (const key of Object.keys(at)) cleanAt(at, key);
  }
  return found;
}

/** No body of the contract is nested nearly as deep. */
const deepest = 1000;
/** Values that a body may have, in lists and things: a library of two thousand techniques has fewer. */
const mostValues = 2_000_000;
/** And in one list: a batch of facts, the largest of them, has five thousand. */
const mostInOne = 20_000;

/** Why a body costs more to read than any that means well; null where it does not. Looks at each byte once, before it is read. */
export function tooCostly(bytes: Uint8Array): string | null {
  let [depth, values, inText] = [0, 0, false];
  const inOne = new Uint32Array(deepest + 2);
  for (let i = 0; i < bytes.length; i++) {
    const byte = bytes[i];
    if (inText) {
      if (byte === 0x5c) i++;
      else if (byte === 0x22) inText = false;
    } else if (byte === 0x22) inText = true;
    else if (byte === 0x5b || byte === 0x7b) {
      if (++depth > deepest) return `It is nested deeper than ${deepest}.`;
      inOne[depth] = 0;
    } else if (byte === 0x5d || byte === 0x7d) depth = Math.max(0, depth - 1);
    else if (byte === 0x2c) {
      if (++values > mostValues) return `It has more than ${mostValues} values.`;
      if (++inOne[depth]! >= mostInOne) return `One of its lists has more than ${mostInOne} items.`;
    }
  }
  return null;
}
