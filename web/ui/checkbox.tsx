import { Checkbox as AriaCheckbox } from 'react-aria-components';
import styled from 'styled-components';

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
