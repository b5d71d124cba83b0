import { memo, type PointerEvent, type SyntheticEvent, useRef } from 'react';
import { VisuallyHidden } from 'react-aria/VisuallyHidden';
import styled from 'styled-components';
import { narrow } from './held';

const Face = styled.button`
  display: flex;
  align-items: center;
  gap: 0.7rem;
  height: max(48px, 100% - 4px);
  padding: 0 1rem;
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
  em {
    flex: none;
    font-style: normal;
    font-size: 0.86rem;
    font-weight: 600;
    padding: 0.1rem 0.5rem;
    border: 2px solid var(--action);
    border-radius: 6px;
    color: var(--action);
  }
  i {
    font-weight: 400;
    color: var(--muted);
  }
  small {
    margin-left: auto;
    font-weight: 650;
    color: var(--soft);
  }
  [data-columns='2'] &,
  [data-columns='3'] & {
    gap: 0.35rem;
    padding-right: 0.3rem;
    font-size: 1rem;
    line-height: 1.05;
    em {
      display: none;
    }
    > span:last-of-type {
      overflow: hidden;
      display: -webkit-box;
      -webkit-line-clamp: 3;
      -webkit-box-orient: vertical;
    }
  }
  ${narrow} {
    [data-columns='2'] &,
    [data-columns='3'] & {
      font-size: 0.84rem;
      line-height: 1;
    }
  }
  &:active:enabled {
    background: var(--stop-wash);
  }
  &:disabled {
    background: transparent;
    color: var(--muted);
    cursor: default;
  }
`;

const longPressMs = 450;

/** A tap and a long press on one button, told apart by time. A press that turns into a scroll is neither. */
function useTapOrHold(onTap: () => void, onHold: () => void) {
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const held = useRef(false);
  const cancel = () => clearTimeout(timer.current);
  return {
    onPointerDown: (event: PointerEvent) => {
      held.current = false;
      if (event.button !== 0) return;
      timer.current = setTimeout(() => {
        held.current = true;
        onHold();
      }, longPressMs);
    },
    onPointerUp: cancel,
    onPointerCancel: cancel,
    onPointerLeave: cancel,
    onContextMenu: (event: SyntheticEvent) => event.preventDefault(),
    onClick: () => {
      if (!held.current) onTap();
      held.current = false;
    },
  };
}

/** One knot on the Mat: a tap is a rep that stopped there, a long press marks it soft. */
export const KnotButton = memo(function KnotButton({
  place,
  title,
  soft,
  failed,
  way,
  worksOn,
  asks,
  disabled,
  indent,
  onStop,
  onSoft,
}: {
  place: number;
  title: string;
  soft: boolean;
  /** Marked as one that failed in a forced finish. */
  failed: boolean;
  /** The way that holds for the two here; empty where it is done as it is written. */
  way: string;
  /** The attacker's sign-off test, if this is their correction. */
  worksOn: string | null;
  /** The words of a tap for a screen reader. */
  asks: string;
  disabled: boolean;
  /** Pixels of the strand that the button also covers. */
  indent: number;
  onStop: (place: number) => void;
  onSoft: (place: number) => void;
}) {
  const press = useTapOrHold(
    () => onStop(place),
    () => onSoft(place),
  );
  return (
    <Face
      type="button"
      {...press}
      style={{ marginLeft: -indent, paddingLeft: indent + 6 }}
      disabled={disabled}
    >
      <kbd>
        <VisuallyHidden elementType="span">{asks} </VisuallyHidden>
        {place + 1}
      </kbd>{' '}
      <span>
        {title}
        {way && <i> · {way}</i>}
      </span>
      {worksOn !== null && <em>{worksOn}</em>}
      {soft && <small> soft</small>}
      {failed && <small style={{ color: 'var(--stop)' }}> failed</small>}
      {disabled && <small style={{ color: 'var(--muted)' }}>not drilled</small>}
    </Face>
  );
});
