import { ProgressBar } from 'react-aria-components';
import styled from 'styled-components';
import { Button } from './button';

const Bar = styled(ProgressBar)`
  display: grid;
  gap: 0.3rem;
  min-width: min(18rem, 100%);
  font-variant-numeric: tabular-nums;
  > div {
    height: 0.5rem;
    border-radius: 0.25rem;
    background: var(--line);
    overflow: hidden;
    > div {
      height: 100%;
      background: var(--action);
    }
  }
`;

/** How much of something that takes its time is done: a share from 0 to 1. */
function Progress({ says, share }: { says: string; share: number }) {
  const percent = `${Math.floor(share * 100)} %`;
  return (
    <Bar aria-label={says} value={share} maxValue={1} valueLabel={percent}>
      <span>
        {says} {percent}
      </span>
      <div>
        <div style={{ width: `${share * 100}%` }} />
      </div>
    </Bar>
  );
}

/** The progress of something with the button that stops it. */
export const Stoppable = ({ says, share, stop }: { says: string; share: number; stop: () => void }) => (
  <>
    <Progress says={says} share={share} />
    <Button $quiet onPress={stop}>
      Stop
    </Button>
  </>
);
