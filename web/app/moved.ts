/** Pages that have another address now: what an old one begins or ends with, and what takes its place. */
const moved: readonly (readonly [old: RegExp, now: string])[] = [
  [/^\/today$/, '/'],
  [/^\/who-may$/, '/access'],
  [/^\/who-looked$/, '/access-log'],
  [/^\/keeping$/, '/backups'],
  [/^\/waiting$/, '/unsent'],
  [/^(\/readings\/[^/]+)\/ways$/, '$1/variants'],
  [/^(\/readings\/[^/]+)\/beliefs$/, '$1/weights'],
];

/** The address that an old one leads to; null if it has not moved. */
export function movedTo(address: string): string | null {
  const path = address.length > 1 ? address.replace(/\/$/, '') : address;
  const found = moved.find(([old]) => old.test(path));
  return found ? path.replace(found[0], found[1]) : null;
}
