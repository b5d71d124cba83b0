import { Region } from '@ulkret/core/breakdown';
import type { Student } from '@ulkret/core/people';
import styled from 'styled-components';
import { today } from '../device/kit';
import { Button } from '../ui/button';
import { DateField } from '../ui/date-field';
import { Quiet, Row } from '../ui/frame';
import { Select } from '../ui/select';
import { TextField } from '../ui/text-field';

const Injured = styled.div`
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  gap: 0.6rem;
  padding: 0.6rem 0;
  border-top: 1px solid var(--line);
  > :nth-last-child(2) {
    flex: 1 1 12rem;
  }
`;

type Injury = Student['injuries'][number];

/** A month: long enough to be reviewed before it expires on its own. */
const usualDays = 28;
const inDays = (days: number): string =>
  new Date(Date.parse(`${today()}T00:00:00Z`) + days * 86_400_000).toISOString().slice(0, 10);

/** Injuries, each with its day: until then what loads the region is refused, or done with care. */
export function Injuries({
  value,
  onChange,
  wrong,
}: {
  value: readonly Injury[];
  onChange: (value: Injury[]) => void;
  wrong: boolean;
}) {
  const put = (at: number, part: Partial<Injury>) =>
    onChange(value.map((one, i) => (i === at ? { ...one, ...part } : one)));
  return (
    <div role="group" aria-label="Injuries">
      <strong>Injuries</strong>
      <Quiet>
        Blocks anything that loads this region until that day. Ask a licensed practitioner when to resume.
      </Quiet>
      {value.map((injury, i) => (
        // Injuries have no other name than their place in the list.
        <Injured key={i} role="group" aria-label={`Injury ${i + 1}`}>
          <Select
            above
            label="Region"
            options={Region.options.map((region) => ({ value: region, text: region }))}
            value={injury.region}
            onChange={(region) => put(i, { region })}
          />
          <Select
            above
            label="Side"
            options={[
              { value: 'none', text: 'neither' },
              { value: 'right', text: 'right' },
              { value: 'left', text: 'left' },
            ]}
            value={injury.side ?? 'none'}
            onChange={(side) => put(i, { side: side === 'none' ? null : side })}
          />
          <DateField label="Since" value={injury.since ?? null} onChange={(since) => put(i, { since })} />
          <DateField
            label="Until"
            value={injury.until}
            onChange={(until) => until !== null && put(i, { until })}
          />
          <TextField
            label="Restriction and source"
            value={injury.note}
            maxLength={300}
            onChange={(note) => put(i, { note })}
          />
          <Button $quiet onPress={() => onChange(value.filter((_, at) => at !== i))}>
            Delete
          </Button>
        </Injured>
      ))}
      {wrong && (
        <p role="alert" style={{ color: 'var(--stop)' }}>
          An injury needs a region and a day until which it is open.
        </p>
      )}
      <Button
        $quiet
        onPress={() =>
          onChange([
            ...value,
            { region: 'shoulder', side: null, since: today(), until: inDays(usualDays), note: '' },
          ])
        }
      >
        Add an injury
      </Button>
    </div>
  );
}

/** The contact for a minor. */
export function Guardian({
  value,
  onChange,
  wrong,
}: {
  value: Student['guardian'];
  onChange: (value: Student['guardian']) => void;
  wrong: boolean;
}) {
  const put = (part: Partial<NonNullable<Student['guardian']>>) => {
    const next = { name: value?.name ?? '', contact: value?.contact ?? '', ...part };
    onChange(next.name === '' && next.contact === '' ? null : next);
  };
  return (
    <div role="group" aria-label="Guardian of a minor">
      <Row>
        <TextField
          label="Guardian of a minor"
          value={value?.name ?? ''}
          maxLength={80}
          error={wrong ? 'a guardian needs a name' : undefined}
          onChange={(name) => put({ name })}
        />
        <TextField
          label="How to reach them"
          value={value?.contact ?? ''}
          maxLength={200}
          onChange={(contact) => put({ contact })}
        />
      </Row>
    </div>
  );
}
