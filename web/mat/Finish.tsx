import { memo } from 'react';
import { Endings, FinishButton } from './layout';

/** What a tap on a knot means: a stop, one of the failures of a forced finish, or the last that held before an interruption. */
export type Tapping = 'stop' | 'forced' | 'not judged';

/** The big closing ring: one tap is one finish. Beside it the two rarer endings, which first ask for a knot. */
export const Finish = memo(function Finish({
  mode,
  failed,
  onFinish,
  onMode,
}: {
  mode: Tapping;
  /** Numbers of the knots that failed in a forced finish, as they are told. */
  failed: string;
  onFinish: () => void;
  onMode: (mode: Tapping) => void;
}) {
  const other = (one: Exclude<Tapping, 'stop'>, text: string) => (
    <button type="button" aria-pressed={mode === one} onClick={() => onMode(mode === one ? 'stop' : one)}>
      {text}
    </button>
  );
  return (
    <Endings>
      <FinishButton type="button" onClick={onFinish} disabled={mode === 'forced' && failed === ''}>
        <svg width="44" height="44" viewBox="-22 -22 44 44" aria-hidden>
          <circle r="16" fill="none" stroke="currentColor" strokeWidth="6" />
        </svg>
        {mode === 'stop'
          ? 'Finished'
          : mode === 'forced'
            ? failed === ''
              ? 'Tap what failed'
              : `Finished, though ${failed} failed`
            : 'Nothing was seen'}
        <kbd>Enter</kbd>
      </FinishButton>
      {other('forced', 'Forced')}
      {other('not judged', 'Not judged')}
    </Endings>
  );
});
