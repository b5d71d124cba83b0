import { Side } from '@ulkret/core/breakdown';
import { defaultHalfLifeDays, Method, Partner, usualWeeks, weeksBefore } from '@ulkret/core/reading';
import { Rung, rungNames, rungs } from '@ulkret/core/rep';
import { useMemo } from 'react';
import { useSearchParams } from 'react-router';
import { Choice } from '../ui/choice';
import { Row } from '../ui/frame';
import { Select } from '../ui/select';
import type { Reads } from '../reader/use-reading';

const agoChoices = [0, 1, 2, 3, 4, 6] as const;
const weekChoices = [4, 8, 13, 26, 52, 0] as const;
const halfLifeChoices = [7, 14, 28, 56, 0] as const;
const names = ['rung', 'side', 'partner', 'ago', 'weeks', 'halfLife', 'method'] as const;

const oneOf = <T extends number>(choices: readonly T[], text: string | null, usual: T): T =>
  choices.find((choice) => String(choice) === text) ?? usual;

/** The last instant of the week before that of N weeks ago, N at least 0: what was known then. */
const endOfWeekAgo = (weeks: number): string =>
  new Date(Date.parse(weeksBefore(new Date().toISOString(), weeks - 1)) - 1).toISOString();

/** Which reps a reading is made of, and how; kept in the URL, so that it can be shared and reloaded. */
export function useSettings() {
  const [search, setSearch] = useSearchParams();
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
      period: { weeks, halfLife, ...(ago > 0 && { asOf: endOfWeekAgo(ago) }) },
    }),
    [method, rung, side, partner, ago, weeks, halfLife],
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
  return { reads, ago, set, search, kept, to };
}
export type Settings = ReturnType<typeof useSettings>;

const all = 'all';

export function SettingsBar({ settings: { reads, ago, set } }: { settings: Settings }) {
  const { slice, period, method } = reads;
  const orNone = (value: string) => (value === all ? null : value);
  return (
    <Row role="group" aria-label="What is read">
      <Choice
        label="Rung"
        value={slice.rung === null ? all : String(slice.rung)}
        options={[
          { value: all, text: 'All' },
          ...rungs.map((rung) => ({
            value: `${rung}`,
            text: `${rung}`,
            title: `${rung} ${rungNames[rung]}`,
          })),
        ]}
        onChange={(value) => set('rung', orNone(value))}
      />
      <Choice
        label="Lead side"
        value={slice.side ?? all}
        options={[
          { value: all, text: 'Both' },
          { value: 'right', text: 'Right' },
          { value: 'left', text: 'Left' },
        ]}
        onChange={(value) => set('side', orNone(value))}
      />
      <Select
        label="Partner"
        value={slice.partner ?? all}
        options={[
          { value: all, text: 'any' },
          { value: 'lighter', text: 'lighter' },
          { value: 'even', text: 'about even' },
          { value: 'heavier', text: 'heavier' },
        ]}
        onChange={(value) => set('partner', orNone(value))}
      />
      <Select
        label="As of"
        value={String(ago)}
        options={agoChoices.map((value) => ({
          value: String(value),
          text: value === 0 ? 'now' : value === 1 ? 'a week ago' : `${value} weeks ago`,
        }))}
        onChange={(value) => set('ago', value === '0' ? null : value)}
      />
      <Select
        label="Period"
        value={String(period.weeks)}
        options={weekChoices.map((value) => ({
          value: String(value),
          text: value === 0 ? 'all' : `${value} weeks`,
        }))}
        onChange={(value) => set('weeks', value === String(usualWeeks) ? null : value)}
      />
      <Select
        label="A rep counts half after"
        value={String(period.halfLife)}
        options={halfLifeChoices.map((value) => ({
          value: String(value),
          text: value === 0 ? 'never' : `${value} days`,
        }))}
        onChange={(value) => set('halfLife', value === String(defaultHalfLifeDays) ? null : value)}
      />
      <Choice
        label="Reading"
        value={method}
        options={[
          { value: 'full', text: 'Full' },
          { value: 'plain', text: 'Plain' },
        ]}
        onChange={(value) => set('method', value === 'full' ? null : value)}
      />
    </Row>
  );
}
