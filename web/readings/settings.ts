import { Side } from '@ulkret/core/breakdown';
import {
  defaultHalfLifeDays,
  Method,
  Partner,
  usualWeeks,
  type Weekday,
  weeksBefore,
} from '@ulkret/core/reading';
import { Rung } from '@ulkret/core/rep';
import { useMemo } from 'react';
import { useSearchParams } from 'react-router';
import { useHere } from '../api/signed-in';
import type { Reads } from '../reader/use-reading';

export const agoChoices = [0, 1, 2, 3, 4, 6] as const;
export const weekChoices = [4, 8, 13, 26, 52, 0] as const;
export const halfLifeChoices = [7, 14, 28, 56, 0] as const;
const names = ['rung', 'side', 'partner', 'ago', 'weeks', 'halfLife', 'method'] as const;

const oneOf = <T extends number>(choices: readonly T[], text: string | null, usual: T): T =>
  choices.find((choice) => String(choice) === text) ?? usual;

/** The last instant of the week before that of N weeks ago, N at least 0: what was known then. */
const endOfWeekAgo = (weeks: number, begins: Weekday): string =>
  new Date(Date.parse(weeksBefore(new Date().toISOString(), weeks - 1, begins)) - 1).toISOString();

/** Which reps a reading is made of, and how; kept in the URL, so that it can be shared and reloaded. */
export function useSettings() {
  const [search, setSearch] = useSearchParams();
  const { weekBegins } = useHere().academy;
  const text = (name: (typeof names)[number]) => search.get(name);
  const rung = Rung.safeParse(search.has('rung') ? Number(text('rung')) : null).data ?? null;
  const side = Side.safeParse(text('side')).data ?? null;
  const partner = Partner.safeParse(text('partner')).data ?? null;
  const method = Method.safeParse(text('method')).data ?? 'full';
  const ago = oneOf(agoChoices, text('ago'), 0);
  const weeks = oneOf(weekChoices, text('weeks'), usualWeeks);
  const halfLife = oneOf(halfLifeChoices, text('halfLife'), defaultHalfLifeDays);
  const reads = useMemo(
    (): Reads => ({
      method,
      slice: { rung, side, partner },
      period: { weeks, halfLife, ...(ago > 0 && { asOf: endOfWeekAgo(ago, weekBegins) }) },
    }),
    [method, rung, side, partner, ago, weeks, halfLife, weekBegins],
  );
  const set = (name: string, value: string | null) =>
    setSearch(
      (at) => {
        if (value === null) at.delete(name);
        else at.set(name, value);
        return at;
      },
      { replace: true },
    );
  /** The same page with the settings kept, for links. */
  const kept = new URLSearchParams(
    [...search].filter(([name]) => (names as readonly string[]).includes(name)),
  );
  const to = (path: string, more: Record<string, string> = {}) => {
    const with_ = new URLSearchParams([...kept, ...Object.entries(more)]);
    return with_.size > 0 ? `${path}?${with_}` : path;
  };
  return { reads, ago, weekBegins, set, search, kept, to };
}
export type Settings = ReturnType<typeof useSettings>;

const weeksAgo = (weeks: number): string => (weeks === 1 ? 'a week ago' : `${weeks} weeks ago`);

/** The settings of a reading in one line: the usual ones in short, and each unusual one. */
export function readsWords({ reads: { slice, period, method }, ago }: Settings): string {
  return [
    slice.rung === null ? 'All rungs' : `Rung ${slice.rung}`,
    slice.side === null ? 'both sides' : `${slice.side} side`,
    slice.partner && `${slice.partner === 'even' ? 'even' : slice.partner} partners`,
    period.weeks === 0 ? 'all weeks' : `${period.weeks} weeks`,
    ago > 0 && `as of ${weeksAgo(ago)}`,
    period.halfLife !== defaultHalfLifeDays &&
      (period.halfLife === 0 ? 'all reps count equally' : `half after ${period.halfLife} days`),
    method === 'plain' && 'counted',
  ]
    .filter(Boolean)
    .join(' · ');
}

/** The label of the reference day. */
export const agoWords = (weeks: number): string => (weeks === 0 ? 'now' : weeksAgo(weeks));
