import {
  FieldError,
  Input,
  Label,
  TextArea as AriaTextArea,
  TextField as AriaTextField,
  type TextFieldProps,
} from 'react-aria-components';
import styled, { css } from 'styled-components';

/** The look of a labelled field. */
export const fieldLook = css`
  display: flex;
  flex-direction: column;
  gap: 0.25rem;
  label {
    font-weight: 600;
  }
  input,
  textarea {
    min-height: 2.6rem;
    padding: 0 0.7rem;
    border: 1.5px solid var(--muted);
    border-radius: 6px;
    background: var(--surface);
    width: 100%;
  }
  textarea {
    min-height: 4.2rem;
    padding: 0.5rem 0.7rem;
  }
  flex: 1 1 auto;
  input[data-invalid],
  textarea[data-invalid] {
    border-color: var(--stop);
  }
  .react-aria-FieldError {
    color: var(--stop);
  }
`;

const Fielded = styled(AriaTextField)`
  ${fieldLook}
`;

export function TextField({
  label,
  error,
  inputMode,
  placeholder,
  ...props
}: TextFieldProps & {
  error?: string | undefined;
  inputMode?: 'numeric' | 'decimal';
  placeholder?: string;
} & ({ label: string } | { label?: never; 'aria-label': string })) {
  return (
    <Fielded {...props} isInvalid={error !== undefined}>
      {label !== undefined && <Label>{label}</Label>}
      <Input inputMode={inputMode} placeholder={placeholder} />
      <FieldError>{error}</FieldError>
    </Fielded>
  );
}

/** The same for more than a line. */
export const TextArea = ({
  label,
  error,
  ...props
}: TextFieldProps & { label: string; error?: string | undefined }) => (
  <Fielded {...props} isInvalid={error !== undefined}>
    <Label>{label}</Label>
    <AriaTextArea />
    <FieldError>{error}</FieldError>
  </Fielded>
);
