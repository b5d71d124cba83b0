/** Order of happening: by instant, and by id where two happened at the same one. */
export const byTime = (a: { at: string; id: string }, b: { at: string; id: string }): number =>
  earlier(a.at, b.at) || (a.id < b.id ? -1 : a.id > b.id ? 1 : 0);

/** Devices and the server write instants in one form (`toISOString`), in which the order of the letters is the order of time. */
const usual = (instant: string): boolean => instant.length === 24 && instant.endsWith('Z');
const earlier = (a: string, b: string): number =>
  a === b ? 0 : usual(a) && usual(b) ? (a < b ? -1 : 1) : Date.parse(a) - Date.parse(b);

/** An instant moved by this many milliseconds. */
export const later = (instant: string, ms: number): string =>
  new Date(Date.parse(instant) + ms).toISOString();
