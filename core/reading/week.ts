import { z } from 'zod';

/** The day of the week on which a house begins its weeks. */
export const Weekday = z.enum(['monday', 'tuesday', 'wednesday', 'thursday', 'friday', 'saturday', 'sunday']);
export type Weekday = z.infer<typeof Weekday>;

const dayMs = 86_400_000;
const weekMs = 7 * dayMs;
/** 1970-01-01 was a Thursday. */
const firstMonday = -3 * dayMs;
const beginOf = (begins: Weekday): number => firstMonday + dayMs * Weekday.options.indexOf(begins);

/** Numbers the weeks: that of an instant or of an ISO day, in UTC. */
export const weekNumber = (at: string, begins: Weekday = 'monday'): number =>
  Math.floor((Date.parse(at) - beginOf(begins)) / weekMs);

/** The day, in UTC, on which the week `weeks` weeks before that of an instant or a day began, as an ISO date. */
export const weeksBefore = (at: string, weeks: number, begins: Weekday = 'monday'): string =>
  new Date((weekNumber(at, begins) - weeks) * weekMs + beginOf(begins)).toISOString().slice(0, 10);

/** The day on which the week of an instant or a day began. */
export const weekOf = (at: string, begins?: Weekday): string => weeksBefore(at, 0, begins);

/** The weeks that lie in the seven days from a day on: one where weeks begin on it, else two. */
export const weeksIn = (day: string, begins: Weekday): string[] => [
  ...new Set([weekOf(day, begins), weekOf(new Date(Date.parse(day) + 6 * dayMs).toISOString(), begins)]),
];
