import { Button as AriaButton } from 'react-aria-components';
import styled, { css } from 'styled-components';

export const buttonLook = css<{ $quiet?: boolean | undefined; $tall?: boolean | undefined }>`
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

/** A button without a look of its own. */
export { AriaButton as BareButton };

/** A button within a line of words. */
export const WordButton = styled(AriaButton)`
  justify-self: start;
  border: 0;
  padding: 0.3rem 0;
  background: transparent;
  color: var(--action);
  font-weight: 600;
  text-decoration: underline;
  cursor: pointer;
`;

export const Button = styled(AriaButton)<{ $quiet?: boolean; $tall?: boolean }>`
  ${buttonLook}
`;
