/** The codes of the first bytes of a file in UTF-16, low byte first or high byte first. */
const marks = new Map([
  ['255 254', 'utf-16le'],
  ['254 255', 'utf-16be'],
]);

/** The last character of a part that may go on in the next one begins here; the length where none does. */
function cutOf(bytes: Uint8Array): number {
  for (let i = bytes.length - 1; i >= Math.max(0, bytes.length - 4); i--) {
    if (bytes[i]! < 0x80) return bytes.length;
    if (bytes[i]! >= 0xc0) return i;
  }
  return bytes.length;
}

const joined = (a: Uint8Array, b: Uint8Array): Uint8Array => {
  if (a.length === 0) return b;
  const both = new Uint8Array(a.length + b.length);
  both.set(a);
  both.set(b, a.length);
  return both;
};

const isAscii = (bytes: Uint8Array): boolean => bytes.every((byte) => byte < 0x80);

/**
 * The text of a file that comes in parts: UTF-8, UTF-16 with its mark, or Windows-1252, which spreadsheets still write and
 * which is told by the first character that UTF-8 does not have. What is neither is read with U+FFFD in it.
 */
export async function* textOf(parts: AsyncIterable<Uint8Array>): AsyncGenerator<string> {
  let decoder: TextDecoder | null = null;
  let rest: Uint8Array = new Uint8Array();
  let begun = false;
  let isUtf8 = false;
  const decode = (bytes: Uint8Array): string => {
    if (decoder) return decoder.decode(bytes, { stream: true });
    try {
      const text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
      isUtf8 ||= !isAscii(bytes);
      return text;
    } catch {
      const loosely = new TextDecoder('utf-8').decode(bytes);
      if (isUtf8 || /[^\0-\x7f\ufffd]/.test(loosely)) return loosely;
      decoder = new TextDecoder('windows-1252');
      return decoder.decode(bytes, { stream: true });
    }
  };
  for await (const part of parts) {
    let bytes = joined(rest, part);
    rest = new Uint8Array();
    if (!begun) {
      if (bytes.length < 2) {
        rest = bytes;
        continue;
      }
      begun = true;
      const label = marks.get(`${bytes[0]} ${bytes[1]}`);
      if (label) decoder = new TextDecoder(label);
    }
    if (!decoder) {
      const cut = cutOf(bytes);
      rest = bytes.slice(cut);
      bytes = bytes.subarray(0, cut);
    }
    yield decode(bytes);
  }
  if (rest.length > 0) yield decode(rest);
}
