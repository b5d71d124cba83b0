import type { KeyboardEvent } from 'react';
import { ToggleButton, ToggleButtonGroup } from 'react-aria-components';
import styled from 'styled-components';
import { Row } from './frame';

const Choices = styled(ToggleButtonGroup)`
  display: inline-flex;
  flex-wrap: wrap;
  max-width: 100%;
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

/** It catches keys and has no box of its own. */
const Keyed = styled.span`
  display: contents;
`;

/** As radio buttons do: an arrow chooses what it leads to. */
function chooseFocused({ key }: KeyboardEvent): void {
  const on = document.activeElement;
  if (key.startsWith('Arrow') && on?.getAttribute('aria-checked') === 'false') (on as HTMLElement).click();
}

/** One of a few, all in view. */
export function Choice<T extends string>({
  label,
  options,
  value,
  onChange,
}: {
  label: string;
  options: readonly { value: NoInfer<T>; text: string; title?: string }[];
  /** Null where nothing is chosen yet. */
  value: T | null;
  onChange(value: NoInfer<T>): void;
}) {
  return (
    <Row>
      <span aria-hidden style={{ fontWeight: 600 }}>
        {label}
      </span>
      <Keyed onKeyUp={chooseFocused}>
        <Choices
          aria-label={label}
          selectionMode="single"
          disallowEmptySelection
          selectedKeys={value === null ? [] : [value]}
          onSelectionChange={(keys) => onChange([...keys][0] as T)}
        >
          {options.map((option) => (
            <ChoiceButton key={option.value} id={option.value} aria-label={option.title ?? option.text}>
              {option.text}
            </ChoiceButton>
          ))}
        </Choices>
      </Keyed>
    </Row>
  );
}

/** The two lead sides, to be chosen from. */
export const rightOrLeft = [
  { value: 'right', text: 'Right' },
  { value: 'left', text: 'Left' },
] as const;
