import { mergeProps } from 'react-aria';
import { useLongPress } from 'react-aria/useLongPress';
import { VisuallyHidden } from 'react-aria/VisuallyHidden';
import { usePress } from 'react-aria/usePress';
import styled from 'styled-components';

const Face = styled.button<{ $indent: number }>`
  display: flex;
  align-items: center;
  gap: 0.7rem;
  height: calc(100% - 4px);
  min-height: 48px;
  margin-left: ${({ $indent }) => -$indent}px;
  padding: 0 1rem 0 ${({ $indent }) => $indent + 6}px;
  border: 0;
  border-radius: 10px;
  background: var(--surface);
  font-size: 1.12rem;
  font-weight: 550;
  line-height: 1.15;
  text-align: left;
  cursor: pointer;
  touch-action: manipulation;
  user-select: none;
  -webkit-touch-callout: none;
  kbd {
    font: inherit;
    font-weight: 700;
    color: var(--muted);
    min-width: 1.1ch;
  }
  small {
    margin-left: auto;
    font-weight: 650;
    color: var(--soft);
  }
  &[data-pressed] {
    background: var(--stop-wash);
  }
  &:disabled {
    background: transparent;
    color: var(--muted);
    cursor: default;
  }
`;

/** One knot on the Mat: a tap is a rep that stopped there, a long press marks it soft. */
export function KnotButton({
  place,
  title,
  soft,
  disabled,
  indent,
  onStop,
  onSoft,
}: {
  place: number;
  title: string;
  soft: boolean;
  disabled: boolean;
  /** Pixels of the strand that the button also covers. */
  indent: number;
  onStop: () => void;
  onSoft: () => void;
}) {
  const { longPressProps } = useLongPress({
    isDisabled: disabled,
    accessibilityDescription: 'Long press marks it soft',
    threshold: 450,
    onLongPress: onSoft,
  });
  const { pressProps, isPressed } = usePress({ isDisabled: disabled, onPress: onStop });
  return (
    <Face
      {...mergeProps(pressProps, longPressProps)}
      $indent={indent}
      disabled={disabled}
      data-pressed={isPressed || undefined}
    >
      <kbd>
        <VisuallyHidden elementType="span">Stopped at </VisuallyHidden>
        {place + 1}
      </kbd>{' '}
      {title}
      {soft && <small> soft</small>}
      {disabled && <small style={{ color: 'var(--muted)' }}>not drilled</small>}
    </Face>
  );
}
