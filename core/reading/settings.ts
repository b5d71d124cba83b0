import { z } from 'zod';
import { Method, Slice } from './reading';
import { Weekday } from './week';

/** Everything a reading depends on besides the reps: with it and the same reps anyone gets the same numbers. */
export const ReadingSettings = z.object({
  model: z.string(),
  method: Method,
  slice: Slice,
  /** The week of this instant is the last that counts. */
  asOf: z.iso.datetime({ offset: true }),
  /** The day on which the first week that counts began; null for all. */
  since: z.iso.date().nullable(),
  weekBegins: Weekday.default('monday'),
  halfLifeDays: z.number().positive(),
});
export type ReadingSettings = z.infer<typeof ReadingSettings>;

/** Weeks that a page reads where nobody says otherwise: a rep of half a year ago weighs one percent. */
export const usualWeeks = 26;
