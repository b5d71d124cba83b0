import { Side } from '@ulkret/core/breakdown';
import { Rung, rungNames, rungs } from '@ulkret/core/rep';
import { endOfDay, subWeeks } from 'date-fns';
import { useMemo } from 'react';
import { useSearchParams } from 'react-router';
import { Choice, Row } from '../shell/ui';

const weeksBack = ['0', '1', '2', '3', '4', '6'] as const;

/** Which reps a reading is made of; kept in the URL, so that it can be shared and reloaded. */
export function useSlice() {
  const [search, setSearch] = useSearchParams();
  const rung = Rung.safeParse(search.has('rung') ? Number(search.get('rung')) : null).data;
  const side = Side.safeParse(search.get('side')).data;
  const weeks = weeksBack.find((one) => one === search.get('weeks')) ?? '0';
  const asOf = useMemo(
    () => (weeks === '0' ? undefined : endOfDay(subWeeks(new Date(), Number(weeks))).toISOString()),
    [weeks],
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
  /** The same page with the slice kept, for links. */
  const kept = new URLSearchParams([...search].filter(([name]) => ['rung', 'side', 'weeks'].includes(name)));
  return { query: { rung, side, asOf }, weeks, set, search, kept };
}

const all = 'all';

export function SliceControls({ slice: { query, weeks, set } }: { slice: ReturnType<typeof useSlice> }) {
  const orNone = (value: string) => (value === all || value === '0' ? null : value);
  return (
    <Row>
      <Choice
        label="Rung"
        value={query.rung === undefined ? all : String(query.rung)}
        options={[
          { value: all, text: 'All' },
          ...rungs.map((rung) => ({
            value: `${rung}`,
            text: `${rung}`,
            title: `${rung} ${rungNames[rung]}`,
          })),
        ]}
        onChange={(value) => set('rung', value === all ? null : value)}
      />
      <Choice
        label="Lead side"
        value={query.side ?? all}
        options={[
          { value: all, text: 'Both' },
          { value: 'right', text: 'Right' },
          { value: 'left', text: 'Left' },
        ]}
        onChange={(value) => set('side', orNone(value))}
      />
      <Choice
        label="As of"
        value={weeks}
        options={weeksBack.map((value) => ({
          value,
          text: value === '0' ? 'now' : `−${value} w`,
          title: value === '0' ? 'now' : `${value} weeks ago`,
        }))}
        onChange={(value) => set('weeks', orNone(value))}
      />
    </Row>
  );
}
