import { memo } from 'react';
import { FinishButton } from './layout';

/** The big closing ring: one tap is one finish. */
export const Finish = memo(function Finish({ onFinish }: { onFinish: () => void }) {
  return (
    <FinishButton type="button" onClick={onFinish}>
      <svg width="44" height="44" viewBox="-22 -22 44 44" aria-hidden>
        <circle r="16" fill="none" stroke="currentColor" strokeWidth="6" />
      </svg>
      Finished
      <kbd>Enter</kbd>
    </FinishButton>
  );
});
