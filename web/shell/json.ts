const texts = new WeakMap<object, string>();

/**
 * JSON of a value that never changes, as `JSON.stringify` writes it. Its parts are remembered, so that a large draft of
 * which one field was edited costs that field. Expects what JSON can hold; what is undefined is left out.
 */
export function jsonOf(value: unknown): string {
  if (value === null || typeof value !== 'object') return JSON.stringify(value) ?? 'null';
  const known = texts.get(value);
  if (known !== undefined) return known;
  const text = Array.isArray(value)
    ? `[${value.map(jsonOf).join(',')}]`
    : `{${Object.entries(value)
        .filter(([, one]) => one !== undefined)
        .map(([key, one]) => `${JSON.stringify(key)}:${jsonOf(one)}`)
        .join(',')}}`;
  texts.set(value, text);
  return text;
}
