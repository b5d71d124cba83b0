import { Check, ChevronDown } from 'lucide-react';
import { type KeyboardEvent, memo, useId, useRef, useState } from 'react';
import {
  Autocomplete,
  Button,
  Input,
  ListBox,
  ListBoxItem,
  Popover,
  SearchField,
  useFilter,
} from 'react-aria-components';
import styled from 'styled-components';

export interface Option<T extends string> {
  value: T;
  text: string;
}

const Labelled = styled.span`
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

/** It catches keys and has no box of its own. */
const Keyed = styled.div`
  display: contents;
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
  /** Where a form finds this field again. */
  path?: string;
}

/** One of many, of which only the chosen one is in view. The list is made when it is opened. */
export function Select<T extends string>({
  label,
  unlabelled = false,
  above = false,
  options,
  value,
  onChange,
  path,
}: SelectProps<T>) {
  const [open, setOpen] = useState(false);
  const trigger = useRef<HTMLButtonElement>(null);
  const id = useId();
  const text = options.find((option) => option.value === value)?.text ?? '';
  /** While the list is closed an arrow opens it, and a letter chooses the next that begins with it. */
  const press = ({ key, ctrlKey, metaKey, altKey }: KeyboardEvent) => {
    if (open || ctrlKey || metaKey || altKey) return;
    if (key === 'ArrowDown' || key === 'ArrowUp') setOpen(true);
    if (key.length !== 1 || key === ' ') return;
    const at = options.findIndex((option) => option.value === value) + 1;
    const next = [...options.slice(at), ...options.slice(0, at)].find((option) =>
      option.text.toLocaleLowerCase().startsWith(key.toLocaleLowerCase()),
    );
    if (next) onChange(next.value);
  };
  return (
    <Labelled data-above={above === true ? 'form' : above || undefined} onKeyDown={press}>
      {!unlabelled && (
        <span id={`${id}-label`} aria-hidden>
          {label}
        </span>
      )}
      <Chosen
        ref={trigger}
        id={id}
        onPress={() => setOpen(true)}
        aria-label={`${label}: ${text}`}
        aria-haspopup="listbox"
        aria-expanded={open}
        data-path={path}
      >
        <span>{text}</span>
        <ChevronDown size={16} aria-hidden />
      </Chosen>
      {open && (
        <Options triggerRef={trigger} isOpen onOpenChange={setOpen} placement="bottom start">
          <List
            label={label}
            options={options}
            value={value}
            onChange={(chosen) => {
              setOpen(false);
              onChange(chosen as T);
            }}
          />
        </Options>
      )}
    </Labelled>
  );
}

const List = memo(function List({
  label,
  options,
  value,
  onChange,
}: {
  label: string;
  options: readonly Option<string>[];
  value: string;
  onChange: (value: string) => void;
}) {
  const { contains } = useFilter({ sensitivity: 'base' });
  const list = (
    <ListBox
      aria-label={label}
      // Choosing the current option closes it too.
      onClickCapture={({ target }) =>
        (target as Element).closest('[role=option][aria-selected=true]') && onChange(value)
      }
      autoFocus={options.length <= many ? true : undefined}
      selectionMode="single"
      disallowEmptySelection
      selectedKeys={[value]}
      onSelectionChange={(keys) => onChange(String([...keys][0]))}
    >
      {options.map((option) => (
        <Item key={option.value} id={option.value} textValue={option.text}>
          {option.text}
          {option.value === value && <Check size={16} aria-hidden />}
        </Item>
      ))}
    </ListBox>
  );
  /** Enter on what is chosen already is done as well, wherever the focus is. */
  const enter = (event: KeyboardEvent<HTMLElement>) => {
    if (event.key !== 'Enter') return;
    const on = event.currentTarget.querySelector('[role=option][aria-selected=true][data-focused]');
    if (!on) return;
    event.preventDefault();
    event.stopPropagation();
    onChange(value);
  };
  if (options.length <= many) return <Keyed onKeyDownCapture={enter}>{list}</Keyed>;
  return (
    <Keyed onKeyDownCapture={enter}>
      <Autocomplete filter={contains}>
        <SearchField aria-label={`Find in ${label}`} autoFocus>
          <Input placeholder="Type to find" />
        </SearchField>
        {list}
      </Autocomplete>
    </Keyed>
  );
});
