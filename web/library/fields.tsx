import { type KeyboardEvent, memo, type ReactNode, useEffect, useId, useRef, useState } from 'react';
import styled from 'styled-components';

/** Sets the value at a path of the work. */
export type Set = (path: readonly (string | number)[], value: unknown) => void;

const Label = styled.label`
  display: grid;
  gap: 0.15rem;
  font-size: 0.9rem;
  color: var(--muted);
  textarea,
  input,
  select {
    color: var(--ink);
    font-size: 1rem;
    padding: 0.35rem 0.55rem;
    border: 1.5px solid var(--line);
    border-radius: 6px;
    background: var(--surface);
    width: 100%;
    min-height: 2.2rem;
  }
  textarea {
    resize: vertical;
    field-sizing: content;
  }
`;

/** How long a pause in typing is, after which the rest of the page is told. */
const pauseMs = 300;

interface TextProps {
  label: string;
  path: readonly (string | number)[];
  value: string;
  set: Set;
  long?: boolean;
  hint?: string;
}

/**
 * A text of the breakdown. Keys are painted by the field alone; the rest of the page is told after a pause, or when one
 * leaves it. Alt+R and Alt+L write the side tokens.
 */
export const TextInput = memo(function TextInput({ label, path, value, set, long, hint }: TextProps) {
  const [text, setText] = useState(value);
  const [told, setTold] = useState(value);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const pending = useRef<string | null>(null);
  // A value from elsewhere (undo, a merge) replaces what is typed; our own comes back as it was told.
  if (value !== told) {
    setTold(value);
    setText(value);
  }
  const tell = () => {
    clearTimeout(timer.current);
    if (pending.current === null) return;
    const next = pending.current;
    pending.current = null;
    setTold(next);
    set(path, next);
  };
  useEffect(() => () => clearTimeout(timer.current), []);
  const type = (next: string) => {
    setText(next);
    pending.current = next;
    clearTimeout(timer.current);
    timer.current = setTimeout(tell, pauseMs);
  };
  const token = (event: KeyboardEvent<HTMLTextAreaElement | HTMLInputElement>) => {
    const side = event.altKey && { KeyR: 'right', KeyL: 'left' }[event.code];
    if (!side) return;
    event.preventDefault();
    const field = event.currentTarget;
    const [from, to] = [field.selectionStart ?? text.length, field.selectionEnd ?? text.length];
    type(`${text.slice(0, from)}{${side}}${text.slice(to)}`);
    const caret = from + side.length + 2;
    requestAnimationFrame(() => field.setSelectionRange(caret, caret));
  };
  const shared = { value: text, onBlur: tell, onKeyDown: token, 'data-path': path.join('.') };
  return (
    <Label>
      {label}
      {long ? (
        <textarea rows={1} {...shared} onChange={(event) => type(event.target.value)} placeholder={hint} />
      ) : (
        <input {...shared} onChange={(event) => type(event.target.value)} placeholder={hint} maxLength={60} />
      )}
    </Label>
  );
});

export function NumberInput({
  label,
  path,
  value,
  set,
}: {
  label: string;
  path: readonly (string | number)[];
  value: number;
  set: Set;
}) {
  return (
    <Label>
      {label}
      <input
        type="number"
        step="any"
        data-path={path.join('.')}
        value={Number.isFinite(value) ? value : ''}
        onChange={(event) => event.target.value !== '' && set(path, Number(event.target.value))}
      />
    </Label>
  );
}

export function SelectInput<T extends string>({
  label,
  path,
  value,
  options,
  onChange,
}: {
  label: string;
  path: readonly (string | number)[];
  value: T;
  options: readonly { value: NoInfer<T>; text: string }[];
  onChange: (value: NoInfer<T>) => void;
}) {
  return (
    <Label>
      {label}
      <select
        value={value}
        data-path={path.join('.')}
        onChange={(event) => onChange(event.target.value as T)}
      >
        {options.map((option) => (
          <option key={option.value} value={option.value}>
            {option.text}
          </option>
        ))}
      </select>
    </Label>
  );
}

/** Options that are called what they are. */
export const plainly = <T extends string>(list: readonly T[]) =>
  list.map((value) => ({ value, text: value }));

const Boxes = styled.fieldset`
  border: 0;
  padding: 0;
  margin: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 0.1rem 0.9rem;
  legend {
    font-size: 0.9rem;
    color: var(--muted);
    padding: 0;
  }
  label {
    display: inline-flex;
    align-items: center;
    gap: 0.4rem;
    min-height: 1.9rem;
  }
  input {
    width: 1.15rem;
    height: 1.15rem;
    accent-color: var(--action);
  }
`;

/** Any of several. */
export function ManyInput<T extends string>({
  label,
  path,
  options,
  value,
  onChange,
}: {
  label: string;
  path: readonly (string | number)[];
  options: readonly { value: NoInfer<T>; text: string }[];
  value: readonly T[];
  onChange: (value: T[]) => void;
}) {
  return (
    <Boxes data-path={path.join('.')} tabIndex={-1}>
      <legend>{label}</legend>
      {options.map((option) => (
        <label key={option.value}>
          <input
            type="checkbox"
            checked={value.includes(option.value)}
            onChange={(event) =>
              onChange(
                event.target.checked ? [...value, option.value] : value.filter((one) => one !== option.value),
              )
            }
          />
          {option.text}
        </label>
      ))}
    </Boxes>
  );
}

export const Check = ({
  label,
  value,
  onChange,
}: {
  label: string;
  value: boolean;
  onChange: (value: boolean) => void;
}) => {
  const id = useId();
  return (
    <Boxes>
      <label htmlFor={id}>
        <input id={id} type="checkbox" checked={value} onChange={(event) => onChange(event.target.checked)} />
        {label}
      </label>
    </Boxes>
  );
};

export const Pane = styled.section`
  display: grid;
  gap: 0.7rem;
`;

const Folded = styled.details`
  border-top: 1px solid var(--line);
  padding-top: 0.5rem;
  > summary {
    cursor: pointer;
    font-weight: 650;
    min-height: 1.9rem;
  }
  > div {
    display: grid;
    gap: 0.6rem;
    padding: 0.4rem 0 0.6rem;
  }
`;

/** A part of the form that can be folded away; a finding in it opens it. */
export const Part = ({
  title,
  open = true,
  children,
}: {
  title: string;
  open?: boolean;
  children: ReactNode;
}) => (
  <Folded open={open}>
    <summary>{title}</summary>
    <div>{children}</div>
  </Folded>
);

export const Two = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(9rem, 1fr));
  gap: 0.5rem;
`;

const Plain = styled.button`
  justify-self: start;
  border: 1.5px solid var(--line);
  border-radius: 6px;
  background: transparent;
  color: var(--action);
  min-height: 2.1rem;
  padding: 0 0.7rem;
  cursor: pointer;
  &:disabled {
    opacity: 0.5;
    cursor: default;
  }
`;
export const Small = ({
  onClick,
  children,
  disabled,
  label,
}: {
  onClick: () => void;
  children: ReactNode;
  disabled?: boolean;
  label?: string;
}) => (
  <Plain type="button" onClick={onClick} disabled={disabled} aria-label={label}>
    {children}
  </Plain>
);
