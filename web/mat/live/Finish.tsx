import { nothingBegun } from '@ulkret/core/session';
import styled from 'styled-components';
import { narrow, sideways, upright } from './held';
import { useDoingHere } from './use-doing';
import { useAct, useMat } from './use-mat';

// Plain buttons, here and in the tiles: a tap redraws within one frame even on a slow tablet.
const FinishButton = styled.button`
  flex: 1;
  min-width: 0;
  text-align: left;
  &:disabled {
    background: var(--raised);
    color: var(--muted);
  }
  display: flex;
  align-items: center;
  gap: 1rem;
  padding: 0 1rem 0 24px;
  border: 0;
  border-radius: 10px;
  background: var(--action);
  color: var(--on-action);
  font-size: 1.35rem;
  font-weight: 650;
  cursor: pointer;
  touch-action: manipulation;
  kbd {
    font: inherit;
    font-size: 0.95rem;
    opacity: 0.75;
    margin-left: auto;
  }
  &:active {
    background: color-mix(in srgb, var(--action), black 25%);
  }
  ${upright} {
    padding-left: 11px;
    kbd {
      display: none;
    }
  }
  @media (max-width: 760px) {
    font-size: 1.15rem;
  }
`;

const Endings = styled.div`
  grid-area: endings;
  display: flex;
  gap: 6px;
  height: 76px;
  padding: 0 3px;
  svg {
    flex: none;
  }
  > button:not(:first-child) {
    width: 6.6rem;
    border: 2px solid var(--line);
    border-radius: 10px;
    background: var(--surface);
    font-weight: 600;
    cursor: pointer;
    touch-action: manipulation;
    &[aria-pressed='true'] {
      border-color: var(--stop);
      background: var(--stop-wash);
    }
  }
  ${narrow} {
    height: 56px;
    > button:not(:first-child) {
      width: 4.9rem;
      line-height: 1.1;
    }
  }
  /* Under the right thumb. */
  ${sideways} {
    flex-direction: column-reverse;
    height: auto;
    padding: 0;
    > button:not(:first-child) {
      flex: none;
      width: auto;
      height: 48px;
    }
    kbd {
      display: none;
    }
    > button:first-child {
      flex-direction: column;
      justify-content: center;
      padding: 0.5rem;
      text-align: center;
    }
  }
`;

/** The big closing ring: one tap is one finish. Next to it the two rarer endings, which first ask for a knot. */
export function Finish() {
  const act = useAct();
  const { actions } = useDoingHere();
  const breakdown = useMat(({ open }) => open?.breakdown ?? null);
  const begun = useMat(({ open, state }) => (open && state.begun.get(open.view.key)) ?? nothingBegun);
  const mode = begun.tapping;
  const failed = (breakdown?.checkpoints ?? [])
    .flatMap(({ id }, place) => (begun.failed.has(id) ? [place + 1] : []))
    .join(', ');
  const other = (one: 'forced' | 'not judged', text: string, press: () => void) => (
    <button type="button" aria-pressed={mode === one} disabled={!breakdown} onClick={press}>
      {text}
    </button>
  );
  return (
    <Endings>
      <FinishButton
        type="button"
        onClick={() => act({ do: 'tap', tap: { do: 'ring' }, finger: true })}
        disabled={!breakdown || (mode === 'forced' && failed === '')}
      >
        <svg width="44" height="44" viewBox="-22 -22 44 44" aria-hidden>
          <circle r="16" fill="none" stroke="currentColor" strokeWidth="6" />
        </svg>
        {mode === 'stop'
          ? 'Finished'
          : mode === 'forced'
            ? failed === ''
              ? 'Tap what failed'
              : `Finished, though ${failed} failed`
            : 'Not seen'}
        <kbd>Enter</kbd>
      </FinishButton>
      {other('forced', 'Forced', actions.forced)}
      {other('not judged', 'Not judged', actions.notJudged)}
    </Endings>
  );
}
