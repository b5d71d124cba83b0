import { defaultHalfLifeDays, usualWeeks } from '@ulkret/core/reading';
import { rungNames, rungs } from '@ulkret/core/rep';
import { Choice } from '../ui/choice';
import { Row } from '../ui/frame';
import { Select } from '../ui/select';
import { agoChoices, agoWords, halfLifeChoices, type Settings, weekChoices } from './settings';

const all = 'all';

/** The controls of what is read. */
export default function SettingsBar({ settings: { reads, ago, set } }: { settings: Settings }) {
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
          text: agoWords(value),
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
        label="Older reps count half after"
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
