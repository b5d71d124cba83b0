import { startTransition, useOptimistic } from 'react';
import { Slider as AriaSlider, SliderThumb, SliderTrack } from 'react-aria-components';
import styled from 'styled-components';

const Slid = styled(AriaSlider)`
  min-width: 6rem;
  .react-aria-SliderTrack {
    position: relative;
    height: 2.2rem;
    cursor: pointer;
    &::before {
      content: '';
      position: absolute;
      inset: calc(50% - 3px) 0;
      border-radius: 3px;
      background:
        linear-gradient(var(--action), var(--action)) 0 0 / var(--share) 100% no-repeat,
        var(--line);
    }
  }
  .react-aria-SliderThumb {
    top: 50%;
    width: 1.4rem;
    height: 1.4rem;
    border-radius: 50%;
    border: 3px solid var(--action);
    background: var(--surface);
    &[data-focus-visible] {
      outline: 3px solid var(--action);
      outline-offset: 2px;
    }
  }
`;

/** A whole number of `most`, moved by thumb, finger or arrows. */
export const Slider = ({
  label,
  value,
  most,
  onChange,
}: {
  label: string;
  value: number;
  most: number;
  onChange: (value: number) => void;
}) => {
  // What it moves may be drawn a moment later: the next key must start from where the thumb is, not from where it was.
  const [shown, show] = useOptimistic(value);
  return (
    <Slid
      aria-label={label}
      value={shown}
      maxValue={most}
      onChange={(moved) =>
        startTransition(() => {
          show(Number(moved));
          onChange(Number(moved));
        })
      }
      style={{ '--share': `${(100 * shown) / most}%` } as React.CSSProperties}
    >
      <SliderTrack>
        <SliderThumb />
      </SliderTrack>
    </Slid>
  );
};
