import { Check, ChevronDown } from 'lucide-react';
import { dequal } from 'dequal';
import { memo, useCallback, useEffect, useRef, useState } from 'react';
import {
  Autocomplete,
  Button,
  Input,
  ListBox,
  ListBoxItem,
  Popover,
  SearchField,
  Select as AriaSelect,
  useFilter,
} from 'react-aria-components';
import styled from 'styled-components';

export interface Option<T extends string> {
  value: T;
  text: string;
}

const Labelled = styled(AriaSelect)`
  display: inline-flex;
  align-items: center;
  gap: 0.5rem;
  font-weight: 600;
  &[data-above] {
    display: grid;
    gap: 0.25rem;
    > button {
      max-width: none;
      min-height: 2.6rem;
      border-color: var(--muted);
    }
  }
  &[data-above='small'] {
    gap: 0.15rem;
    font-weight: 400;
    > span {
      font-size: 0.9rem;
      color: var(--muted);
    }
    > button {
      min-height: 2.2rem;
      border-color: var(--line);
    }
  }
`;

const Chosen = styled(Button)`
  display: inline-flex;
  align-items: center;
  justify-content: space-between;
  gap: 0.4rem;
  min-width: 0;
  max-width: 17rem;
  min-height: 2.3rem;
  padding: 0 0.5rem 0 0.65rem;
  border: 1.5px solid var(--line);
  border-radius: 6px;
  background: var(--surface);
  font-weight: 400;
  text-align: left;
  cursor: pointer;
  touch-action: manipulation;
  > span {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  svg {
    flex: none;
    color: var(--muted);
  }
`;

const Options = styled(Popover)`
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  min-width: var(--trigger-width);
  max-width: min(30rem, 94vw);
  max-height: min(22rem, 80dvh);
  overflow: auto;
  padding: 0.3rem;
  background: var(--surface);
  border: 1px solid var(--line);
  border-radius: 8px;
  box-shadow: 0 8px 28px rgb(8 20 26 / 0.25);
  input {
    width: 100%;
    min-height: 2.4rem;
    padding: 0 0.6rem;
    margin-bottom: 0.3rem;
    border: 1.5px solid var(--muted);
    border-radius: 6px;
    background: var(--surface);
  }
`;

const Item = styled(ListBoxItem)`
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 0.8rem;
  min-height: 2.3rem;
  padding: 0.15rem 0.6rem;
  border-radius: 5px;
  cursor: pointer;
  outline: none;
  &[data-focused],
  &[data-hovered] {
    background: var(--wash);
  }
  &[data-selected] {
    font-weight: 650;
  }
`;

/** From this many options on, typing filters them. */
const many = 12;

interface SelectProps<T extends string> {
  label: string;
  /** Says the label to a screen reader alone. */
  unlabelled?: boolean;
  /** The label is above, as in a form; or small, as on the workbench. */
  above?: boolean | 'small';
  options: readonly Option<NoInfer<T>>[];
  value: T;
  onChange: (value: NoInfer<T>) => void;
  /** The path by which a form finds this field. */
  path?: string;
}

/**
 * One of many, of which only the chosen one is in view. The others are made once the field is focused, and it is drawn again
 * only when what it shows changes: a page has dozens.
 */
export function Select<T extends string>({ onChange, options, ...shown }: SelectProps<T>) {
  const latest = useRef(onChange);
  useEffect(() => {
    latest.current = onChange;
  });
  const change = useCallback((key: string) => latest.current(key as T), []);
  const [near, setNear] = useState(false);
  const come = useCallback(() => setNear(true), []);
  const made = near ? options : options.filter(({ value }) => value === shown.value);
  return <Drawn {...shown} options={made} come={come} onChange={change} />;
}

interface DrawnProps extends SelectProps<string> {
  /** The field is focused. */
  come: () => void;
}

const isSame = (a: DrawnProps, b: DrawnProps): boolean =>
  a.value === b.value &&
  a.label === b.label &&
  a.path === b.path &&
  a.above === b.above &&
  a.unlabelled === b.unlabelled &&
  dequal(a.options, b.options);

const Drawn = memo(function Drawn({
  label,
  unlabelled = false,
  above = false,
  options,
  value,
  onChange,
  path,
  come,
}: DrawnProps) {
  const text = options.find((option) => option.value === value)?.text ?? '';
  return (
    <Labelled
      data-above={above === true ? 'form' : above || undefined}
      aria-label={label}
      value={value}
      onFocus={come}
      onChange={(key) => onChange(String(key))}
    >
      {!unlabelled && <span aria-hidden>{label}</span>}
      <Chosen aria-label={`${label}: ${text}`} aria-labelledby="" data-path={path}>
        <span>{text}</span>
        <ChevronDown size={16} aria-hidden />
      </Chosen>
      <Options placement="bottom start">
        {options.length > many ? (
          <Found label={label} options={options} />
        ) : (
          <List label={label} options={options} />
        )}
      </Options>
    </Labelled>
  );
}, isSame);

interface ListProps {
  label: string;
  options: readonly Option<string>[];
}

const List = ({ label, options }: ListProps) => (
  <ListBox aria-label={label}>
    {options.map(({ value, text }) => (
      <Item key={value} id={value} textValue={text}>
        {({ isSelected }) => (
          <>
            {text}
            {isSelected && <Check size={16} aria-hidden />}
          </>
        )}
      </Item>
    ))}
  </ListBox>
);

/** A long list, with a field to type in. */
function Found(list: ListProps) {
  const { contains } = useFilter({ sensitivity: 'base' });
  return (
    <Autocomplete filter={contains}>
      <SearchField aria-label={`Find in ${list.label}`} autoFocus>
        <Input placeholder="Type to find" />
      </SearchField>
      <List {...list} />
    </Autocomplete>
  );
}
