import * as words from '@ulkret/core/words';
import { dateOf, writer } from './zone';

export { grouped, many } from '@ulkret/core/words';

/** A number and what it counts stay on one line. */
/** Text that never breaks a line before a percent sign. */
export const together = (words: string): string => words.replaceAll(' %', '\u00a0%');
export const percent = (share: number): string => together(words.percent(share));
export const range = (estimate: { low: number; high: number }): string => together(words.range(estimate));
export const sure = (chance: number): string => together(words.sure(chance));

/** A number of two places, as the reader writes numbers. */
export const twoPlaces = (value: number, locale?: string): string =>
  new Intl.NumberFormat(locale, { minimumFractionDigits: 2, maximumFractionDigits: 2 }).format(value);

const dayMs = 86_400_000;
/** The number of a date, so that dates can be counted. */
const dayNumber = (date: string): number => Date.parse(`${date}T00:00:00Z`) / dayMs;
const isDate = (text: string): boolean => text.length === 10;

/**
 * A day as a coach would say it, or as the reader writes days (`locale` is the browser's where it is not said): of an
 * instant where the academy is, or of a date, which is the same everywhere.
 */
export function dayOf(when: string, locale?: string): string {
  const date = isDate(when) ? when : dateOf(new Date(when));
  const today = dateOf(Date.now());
  const back = dayNumber(today) - dayNumber(date);
  if (back === 0) return 'today';
  if (back === 1) return 'yesterday';
  return writer(locale, {
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    ...(date.slice(0, 4) !== today.slice(0, 4) && { year: 'numeric' }),
    timeZone: 'UTC',
  }).format(new Date(`${date}T00:00:00Z`));
}

/** The time of an instant where the academy is. */
export const timeOf = (instant: string, locale?: string): string =>
  writer(locale, { hour: '2-digit', minute: '2-digit' }).format(new Date(instant));

const steps = [
  ['day', dayMs],
  ['hour', 3_600_000],
  ['minute', 60_000],
  ['second', 1000],
] as const;

/** How long ago something was, in the largest whole unit. */
export function ago(instant: string): string {
  const ms = Math.max(0, Date.now() - Date.parse(instant));
  const [unit, long] = steps.find(([, least]) => ms >= least) ?? steps.at(-1)!;
  return new Intl.RelativeTimeFormat('en').format(-Math.floor(ms / long), unit);
}
