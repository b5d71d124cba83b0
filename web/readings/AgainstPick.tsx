import { Select } from '../ui/select';
import { rungPairs, splitWeeks } from './against';
import type { Settings } from './settings';

/** What is laid over a reading, in the address. */
export const AgainstPick = ({ settings: { search, set } }: { settings: Settings }) => (
  <Select
    label="Compare with"
    value={search.get('against') ?? 'none'}
    options={[
      { value: 'none', text: 'nothing' },
      ...splitWeeks.map((n) => ({
        value: `before-${n}`,
        text: n === 1 ? 'before and this week' : `before and the last ${n} weeks`,
      })),
      { value: 'sides', text: 'right and left' },
      ...rungPairs.map(([low, high]) => ({
        value: `rungs-${low}-${high}`,
        text: `rung ${low} and rung ${high}`,
      })),
    ]}
    onChange={(value) => set('against', value === 'none' ? null : value)}
  />
);
