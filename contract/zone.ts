import { z } from 'zod';

/** A time zone, as an IANA name. */
export const Zone = z.string().refine(
  (zone) => {
    try {
      return new Intl.DateTimeFormat('en', { timeZone: zone }) instanceof Intl.DateTimeFormat;
    } catch {
      return false;
    }
  },
  { error: 'it should be the name of a time zone, such as Europe/Lisbon' },
);
