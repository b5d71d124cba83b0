import { formatDistanceToNowStrict, format, isToday, isYesterday } from 'date-fns';

export const percent = (share: number): string => `${Math.round(share * 100)} %`;
export const range = ({ low, high }: { low: number; high: number }): string =>
  `${Math.round(low * 100)}–${Math.round(high * 100)} %`;
export const many = (n: number, one: string, more = `${one}s`): string =>
  `${n.toLocaleString('en')} ${n === 1 ? one : more}`;

/** A day as a coach would say it. */
export function dayOf(instant: string): string {
  const date = new Date(instant);
  if (isToday(date)) return 'today';
  if (isYesterday(date)) return 'yesterday';
  return format(date, 'EEE d MMM');
}
export const timeOf = (instant: string): string => format(new Date(instant), 'HH:mm');
export const ago = (instant: string): string => `${formatDistanceToNowStrict(new Date(instant))} ago`;
