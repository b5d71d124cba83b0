import {
  Button as AriaButton,
  Checkbox as AriaCheckbox,
  FieldError,
  Input,
  Label,
  TextField as AriaTextField,
  type TextFieldProps,
  ToggleButton,
  ToggleButtonGroup,
} from 'react-aria-components';
import { Link as RouterLink } from 'react-router';
import styled, { css } from 'styled-components';

const buttonLook = css<{ $quiet?: boolean | undefined; $tall?: boolean | undefined }>`
  display: inline-flex;
  align-items: center;
  justify-content: center;
  gap: 0.5em;
  min-height: ${({ $tall }) => ($tall ? '3.2rem' : '2.4rem')};
  padding: 0 1rem;
  border: 1.5px solid var(--action);
  border-radius: 6px;
  background: ${({ $quiet }) => ($quiet ? 'transparent' : 'var(--action)')};
  color: ${({ $quiet }) => ($quiet ? 'var(--action)' : 'var(--on-action)')};
  font-weight: 600;
  text-decoration: none;
  cursor: pointer;
  touch-action: manipulation;
  &[data-pressed] {
    filter: brightness(0.85);
  }
  &[data-disabled] {
    opacity: 0.5;
    cursor: default;
  }
`;

export const Button = styled(AriaButton)<{ $quiet?: boolean; $tall?: boolean }>`
  ${buttonLook}
`;
export const ButtonLink = styled(RouterLink)<{ $quiet?: boolean; $tall?: boolean }>`
  ${buttonLook}
`;

export const Page = styled.main`
  display: flex;
  flex-direction: column;
  gap: 1.1rem;
  padding: 1.4rem clamp(0.8rem, 2.5vw, 2rem) 3rem;
  max-width: 86rem;
  width: 100%;
`;

export const Head = styled.header`
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  justify-content: space-between;
  gap: 0.8rem 1.5rem;
`;

export const Panel = styled.section`
  background: var(--surface);
  border-radius: 8px;
  padding: 1.1rem 1.2rem;
`;

/** Two columns of panels, one below the other where the screen is narrow. */
export const Columns = styled.div<{ $shares?: string }>`
  display: grid;
  grid-template-columns: ${({ $shares = 'minmax(0, 6fr) minmax(0, 5fr)' }) => $shares};
  gap: 1.1rem;
  align-items: start;
  @media (max-width: 1000px) {
    grid-template-columns: minmax(0, 1fr);
  }
  > div {
    display: grid;
    gap: 1.1rem;
  }
`;

/** Rows that are compared: heads quiet, a line under each. */
export const Table = styled.table`
  width: 100%;
  th {
    text-align: left;
    color: var(--muted);
    font-weight: 500;
  }
  th,
  td {
    padding: 0.45rem 0.9rem 0.45rem 0;
    border-bottom: 1px solid var(--line);
  }
`;

/** A plain field for one line of text. */
export const LineInput = styled.input`
  min-height: 2.6rem;
  width: 100%;
  padding: 0 0.6rem;
  border: 1.5px solid var(--muted);
  border-radius: 6px;
  background: var(--surface);
`;

export const Quiet = styled.p`
  color: var(--muted);
`;

export const Row = styled.div`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.6rem 0.9rem;
`;

const CautionLine = styled.div`
  border-left: 4px solid var(--stop);
  background: var(--stop-wash);
  padding: 0.55rem 0.8rem;
  border-radius: 0 6px 6px 0;
  summary {
    cursor: pointer;
  }
`;

/** A technique's caution where it is chosen, drilled or prescribed: its first sentence, the rest at a tap. */
export function Caution({ note }: { note: string }) {
  const [, first = note, rest = ''] = /^(.+?\.)\s+(.+)$/s.exec(note) ?? [];
  return (
    <CautionLine role="note">
      {rest ? (
        <details>
          <summary>{first}</summary>
          {rest}
        </details>
      ) : (
        note
      )}
    </CautionLine>
  );
}

const Fielded = styled(AriaTextField)`
  display: flex;
  flex-direction: column;
  gap: 0.25rem;
  label {
    font-weight: 600;
  }
  input {
    min-height: 2.6rem;
    padding: 0 0.7rem;
    border: 1.5px solid var(--muted);
    border-radius: 6px;
    background: var(--surface);
    width: 100%;
  }
  input[data-invalid] {
    border-color: var(--stop);
  }
  .react-aria-FieldError {
    color: var(--stop);
  }
`;

export function TextField({
  label,
  error,
  inputMode,
  ...props
}: TextFieldProps & { label: string; error?: string | undefined; inputMode?: 'numeric' | 'decimal' }) {
  return (
    <Fielded {...props} isInvalid={error !== undefined}>
      <Label>{label}</Label>
      <Input inputMode={inputMode} />
      <FieldError>{error}</FieldError>
    </Fielded>
  );
}

const Choices = styled(ToggleButtonGroup)`
  display: inline-flex;
  border: 1.5px solid var(--line);
  border-radius: 6px;
  overflow: hidden;
  background: var(--surface);
`;

const ChoiceButton = styled(ToggleButton)`
  min-height: 2.3rem;
  min-width: 2.4rem;
  padding: 0 0.75rem;
  border: 0;
  border-left: 1.5px solid var(--line);
  background: transparent;
  cursor: pointer;
  touch-action: manipulation;
  &:first-child {
    border-left: 0;
  }
  &[data-selected] {
    background: var(--action);
    color: var(--on-action);
    font-weight: 600;
  }
  &[data-focus-visible] {
    outline-offset: -3px;
  }
`;

/** One of a few, all in view. */
export function Choice<T extends string>({
  label,
  options,
  value,
  onChange,
}: {
  label: string;
  options: readonly { value: NoInfer<T>; text: string; title?: string }[];
  value: T;
  onChange(value: NoInfer<T>): void;
}) {
  return (
    <Row>
      <span aria-hidden style={{ fontWeight: 600 }}>
        {label}
      </span>
      <Choices
        aria-label={label}
        selectionMode="single"
        disallowEmptySelection
        selectedKeys={[value]}
        onSelectionChange={(keys) => onChange([...keys][0] as T)}
      >
        {options.map((option) => (
          <ChoiceButton key={option.value} id={option.value} aria-label={option.title ?? option.text}>
            {option.text}
          </ChoiceButton>
        ))}
      </Choices>
    </Row>
  );
}

const Picked = styled.label`
  display: inline-flex;
  align-items: center;
  gap: 0.5rem;
  font-weight: 600;
  select {
    max-width: 17rem;
    min-height: 2.3rem;
    padding: 0 0.4rem;
    border: 1.5px solid var(--line);
    border-radius: 6px;
    background: var(--surface);
    font-weight: 400;
  }
`;

/** One of many, of which only the chosen one is in view. */
export const Pick = <T extends string>({
  label,
  options,
  value,
  onChange,
}: {
  label: string;
  options: readonly { value: NoInfer<T>; text: string }[];
  value: T;
  onChange(value: NoInfer<T>): void;
}) => (
  <Picked>
    {label}
    <select value={value} onChange={(event) => onChange(event.target.value as T)}>
      {options.map((option) => (
        <option key={option.value} value={option.value}>
          {option.text}
        </option>
      ))}
    </select>
  </Picked>
);

export const Checkbox = styled(AriaCheckbox)`
  display: flex;
  align-items: center;
  gap: 0.6rem;
  min-height: 2.2rem;
  cursor: pointer;
  &::before {
    content: '';
    flex: none;
    width: 1.3rem;
    height: 1.3rem;
    border: 2px solid var(--muted);
    border-radius: 4px;
  }
  &[data-selected]::before {
    background: var(--action);
    border-color: var(--action);
    box-shadow: inset 0 0 0 3px var(--surface);
  }
  &[data-focus-visible]::before {
    outline: 3px solid var(--action);
    outline-offset: 2px;
  }
`;
