/** Where the academy is: its days begin and end there. Undefined, where nobody is signed in, is where the device is. */
let zone: string | undefined;

/** Says where days and times are those of. */
export const daysOf = (named: string): void => {
  zone = named;
};

/** How days and times are written: in the academy's time zone. */
export const inZone = (): { timeZone?: string } => (zone === undefined ? {} : { timeZone: zone });

/** The date of an instant where the academy is, as YYYY-MM-DD. */
export const dateOf = (instant: Date | number): string =>
  // Canada writes dates as ISO 8601 does.
  new Intl.DateTimeFormat('en-CA', { dateStyle: 'short', ...inZone() }).format(instant);

/** Where this device thinks that it is, as an IANA name. */
export const deviceZone = (): string => Intl.DateTimeFormat().resolvedOptions().timeZone;
