import { formatDistanceToNowStrict, format, isToday, isYesterday } from 'date-fns';

export { many, percent, range, sure } from '@ulkret/core/words';

/** A day as a coach would say it. */
export function dayOf(instant: string): string {
  const date = new Date(instant);
  if (isToday(date)) return 'today';
  if (isYesterday(date)) return 'yesterday';
  return format(date, 'EEE d MMM');
}
export const timeOf = (instant: string): string => format(new Date(instant), 'HH:mm');
export const ago = (instant: string): string => `${formatDistanceToNowStrict(new Date(instant))} ago`;
