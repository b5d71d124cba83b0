import { type CalendarDate, parseDate } from '@internationalized/date';
import { DateField as AriaDateField, DateInput, DateSegment, FieldError, Label } from 'react-aria-components';
import styled from 'styled-components';
import { fieldLook } from './text-field';

const Fielded = styled(AriaDateField<CalendarDate>)`
  ${fieldLook}
  .react-aria-DateInput {
    display: flex;
    align-items: center;
    min-height: 2.6rem;
    padding: 0 0.7rem;
    border: 1.5px solid var(--muted);
    border-radius: 6px;
    background: var(--surface);
  }
  .react-aria-DateSegment {
    padding: 0 0.1rem;
    border-radius: 3px;
    &[data-placeholder] {
      color: var(--muted);
    }
    &:focus {
      outline: none;
      background: var(--action);
      color: var(--on-action);
    }
  }
`;

/** A day, part by part, in the order in which the reader writes days; an ISO date, or null where none was given. */
export function DateField({
  label,
  error,
  value,
  onChange,
}: {
  label: string;
  error?: string | undefined;
  value: string | null;
  onChange: (value: string | null) => void;
}) {
  return (
    <Fielded
      value={value ? parseDate(value) : null}
      onChange={(day) => onChange(day?.toString() ?? null)}
      isInvalid={error !== undefined}
    >
      <Label>{label}</Label>
      <DateInput>{(segment) => <DateSegment segment={segment} />}</DateInput>
      <FieldError>{error}</FieldError>
    </Fielded>
  );
}
