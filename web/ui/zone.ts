/**
 * The academy's time zone: its days begin and end there. Without a sign-in it is undefined, which means the device's.
 */
let zone: string | undefined;

/** To make one costs as much as drawing a knot, and a tap writes several times. */
const made = new Map<string, Intl.DateTimeFormat>();

/** Days and times are shown in this zone. */
export const daysOf = (named: string): void => {
  if (named !== zone) made.clear();
  zone = named;
};

/** Writes days and times as a locale does, where the academy is unless the options name a time zone. */
export function writer(locale: string | undefined, options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const name = JSON.stringify([locale, options]);
  const known = made.get(name);
  if (known) return known;
  const fresh = new Intl.DateTimeFormat(locale, {
    ...(zone !== undefined && { timeZone: zone }),
    ...options,
  });
  made.set(name, fresh);
  return fresh;
}

/** The date of an instant where the academy is, as YYYY-MM-DD: Canada writes dates as ISO 8601 does. */
export const dateOf = (instant: Date | number): string =>
  writer('en-CA', { dateStyle: 'short' }).format(instant);

/** Where this device thinks that it is, as an IANA name. */
export const deviceZone = (): string => Intl.DateTimeFormat().resolvedOptions().timeZone;
