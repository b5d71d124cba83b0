import { ToggleButton } from 'react-aria-components';
import styled from 'styled-components';

/** Something that is on or off at a tap: a person who is here, a region that is kept off. */
export const Chip = styled(ToggleButton)`
  min-height: 48px;
  padding: 0 1rem;
  border: 2px solid var(--line);
  border-radius: 8px;
  background: var(--surface);
  cursor: pointer;
  touch-action: manipulation;
  &[data-selected] {
    border-color: var(--action);
    background: var(--wash);
    font-weight: 650;
  }
`;
