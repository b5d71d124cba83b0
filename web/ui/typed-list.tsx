import { Autocomplete, Input, ListBox, ListBoxItem, SearchField } from 'react-aria-components';
import styled from 'styled-components';
import { Quiet } from './frame';

const Words = styled(SearchField)`
  input {
    width: 100%;
    min-height: 3rem;
    padding: 0 0.9rem;
    font-size: 1.15rem;
    border: 1.5px solid var(--muted);
    border-radius: 8px;
    background: var(--surface);
  }
`;

const Found = styled(ListBox<ListChoice>)`
  max-height: 60dvh;
  overflow-y: auto;
  outline: none;
`;

const Item = styled(ListBoxItem)`
  display: flex;
  justify-content: space-between;
  gap: 1rem;
  padding: 0.55rem 0.8rem;
  border-radius: 6px;
  cursor: pointer;
  outline: none;
  small {
    color: var(--muted);
  }
  &[data-focused],
  &[data-hovered] {
    background: var(--wash);
  }
`;

/** One of a list: what it is called, and what tells it from others of that name. */
export interface ListChoice {
  id: string;
  name: string;
  more: string;
}

/** A list that is found in by typing: arrows go through it while the words keep the focus. */
export const TypedList = ({
  label,
  placeholder,
  words,
  setWords,
  items,
  none,
  onChoose,
}: {
  label: string;
  placeholder: string;
  words: string;
  setWords: (words: string) => void;
  items: readonly ListChoice[];
  /** The words shown if nothing matches. */
  none: string;
  onChoose: (id: string) => void;
}) => (
  <Autocomplete inputValue={words} onInputChange={setWords}>
    <Words aria-label={label} autoFocus>
      <Input placeholder={placeholder} />
    </Words>
    <Found
      aria-label="Found"
      items={items}
      onAction={(id) => onChoose(String(id))}
      renderEmptyState={() => <Quiet>{none}</Quiet>}
    >
      {({ name, more }) => (
        <Item textValue={name}>
          {name}
          <small>{more}</small>
        </Item>
      )}
    </Found>
  </Autocomplete>
);
