import styled from 'styled-components';

/** The one screen of a round: everything in view, nothing moves under a finger. */
export const Mat = styled.main`
  height: calc(100dvh - var(--strip, 0px));
  display: grid;
  grid-template:
    'top top' auto 'tiles advice' auto 'tiles stage' minmax(0, 1fr) 'tiles endings' auto 'safety safety' auto
    'log log' auto / 17.5rem minmax(0, 1fr);
  gap: 0.5rem 0.8rem;
  padding: 0.5rem 0.8rem;
  overflow: hidden;
  @media (max-width: 760px) {
    grid-template:
      'top' auto 'tiles' auto 'advice' auto 'stage' minmax(0, 1fr) 'endings' auto 'safety' auto 'log' auto
      / minmax(0, 1fr);
    gap: 0.35rem;
    padding: 0.35rem 0.5rem;
  }
`;

export const Top = styled.header`
  [role='note'] {
    flex: 1 0 100%;
  }
  contain: layout style;
  grid-area: top;
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.5rem 0.7rem;
  h1 {
    font-size: 1.15rem;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  @media (max-width: 1000px) {
    gap: 0.4rem;
    > button.wide:not(:first-child) {
      display: none;
    }
  }
  > div:first-of-type {
    flex: 1 1 7rem;
    min-width: 0;
  }
  small {
    color: var(--muted);
    font-size: 0.9rem;
  }
  .step {
    display: flex;
    align-items: center;
    gap: 0.3rem;
  }
  .step span {
    display: grid;
    justify-items: center;
    line-height: 1.1;
    min-width: 2.4rem;
  }
  > button:not(:first-child),
  .step button {
    min-width: 48px;
    min-height: 48px;
    border: 1.5px solid var(--line);
    border-radius: 8px;
    background: var(--surface);
    display: grid;
    place-content: center;
    justify-items: center;
    line-height: 1.1;
    padding: 0 0.7rem;
    cursor: pointer;
    touch-action: manipulation;
  }
  a {
    min-height: 48px;
    display: grid;
    place-content: center;
    padding: 0 0.5rem;
  }
  @media (max-width: 760px) {
    gap: 0.3rem 0.25rem;
    > div:first-of-type {
      flex: 1 1 8rem;
    }
    > button.wide:not(:first-child) {
      display: none;
    }
    > button:not(:first-child),
    .step button {
      padding: 0 0.4rem;
    }
    .step span {
      min-width: 2rem;
    }
    a {
      margin-left: auto;
      padding: 0;
      font-size: 0.9rem;
    }
  }
`;

export const Tiles = styled.nav`
  contain: layout style;
  grid-area: tiles;
  display: flex;
  flex-direction: column;
  gap: 0.45rem;
  overflow-y: auto;
  padding: 3px;
  > :last-child {
    flex: none;
    min-height: 48px;
    border: 0;
    background: transparent;
    color: var(--action);
    font-weight: 600;
    cursor: pointer;
  }
  @media (max-width: 760px) {
    flex-direction: row;
    overflow: auto hidden;
    > button {
      flex: 0 0 13.6rem;
    }
    > :last-child {
      flex: 0 0 6rem;
    }
  }
`;

export const Stage = styled.section`
  contain: style;
  grid-area: stage;
  position: relative;
  overflow-y: auto;
  padding: 3px;
  /* The right-hand lane belongs to the causes, so that they never come up under a finger that means a knot. */
  > ol {
    padding-right: var(--lane);
  }
  > ol > svg {
    z-index: 1;
  }
  --lane: min(21rem, 40%);
  @media (max-width: 1000px) {
    --lane: 0px;
  }
`;

export const Endings = styled.div`
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
  @media (max-width: 760px) {
    height: 56px;
    > button:not(:first-child) {
      width: 4.9rem;
      line-height: 1.1;
    }
  }
`;

/** Always of one height: what it says comes and goes, and no knot moves. */
export const AdviceLine = styled.div`
  grid-area: advice;
  contain: strict;
  height: 52px;
  display: flex;
  align-items: center;
  gap: 0.8rem;
  padding: 0 0.3rem 0 0.8rem;
  border-radius: 10px;
  background: var(--raised);
  line-height: 1.15;
  &[data-grave='stop'] {
    background: var(--stop-wash);
    border-left: 5px solid var(--stop);
  }
  &[data-grave='care'] {
    background: var(--soft-wash);
    border-left: 5px solid var(--soft);
  }
  .said {
    display: none;
  }
  @media (max-width: 760px) {
    .said:not(:empty) {
      display: inline;
    }
    .said:not(:empty) + span {
      display: none;
    }
  }
  p {
    flex: 1;
    overflow: hidden;
    display: -webkit-box;
    -webkit-line-clamp: 2;
    -webkit-box-orient: vertical;
  }
  button {
    flex: none;
    min-height: 44px;
    padding: 0 0.8rem;
    border: 1.5px solid var(--action);
    border-radius: 8px;
    background: var(--surface);
    color: var(--action);
    font-weight: 600;
    cursor: pointer;
    touch-action: manipulation;
  }
  @media (max-width: 760px) {
    font-size: 0.9rem;
    gap: 0.3rem;
    button {
      padding: 0 0.5rem;
    }
  }
`;

/** Always there, always in the same place. */
export const SafetyBar = styled.button`
  grid-area: safety;
  height: 48px;
  border: 0;
  border-radius: 10px;
  background: var(--stop);
  color: var(--surface);
  font-size: 1.12rem;
  font-weight: 650;
  cursor: pointer;
  touch-action: manipulation;
  &:active {
    filter: brightness(0.85);
  }
`;

/** What the clock says, over everything for a moment and in nobody's way. */
export const SignalFlash = styled.div`
  position: fixed;
  inset: 0;
  z-index: 15;
  pointer-events: none;
  display: grid;
  place-items: center;
  border: 14px solid var(--action);
  strong {
    padding: 0.3rem 1.5rem;
    border-radius: 12px;
    background: var(--action);
    color: var(--on-action);
    font-size: clamp(2.6rem, 9vw, 6rem);
    line-height: 1.1;
    text-align: center;
  }
  &[data-signal='end'] {
    border-color: var(--stop);
    strong {
      background: var(--stop);
      color: var(--surface);
    }
  }
`;

/** A panel over the Mat, for what cannot be said with one tap. */
export const Sheet = styled.div`
  background: var(--surface);
  border: 1px solid var(--line);
  border-radius: 10px;
  padding: 1.2rem 1.4rem;
  display: grid;
  gap: 0.8rem;
  width: min(46rem, 96vw);
  max-height: 94dvh;
  overflow-y: auto;
  fieldset {
    border: 0;
    margin: 0;
    padding: 0;
  }
  textarea {
    width: 100%;
    min-height: 4.2rem;
    padding: 0.5rem 0.7rem;
    border: 1.5px solid var(--muted);
    border-radius: 6px;
    background: var(--surface);
  }
`;

// Plain buttons, here and in the tiles: a tap redraws within one frame even on a slow tablet.
export const FinishButton = styled.button`
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
    filter: brightness(0.8);
  }
  @media (max-width: 1000px) {
    padding-left: 11px;
    kbd {
      display: none;
    }
  }
  @media (max-width: 760px) {
    font-size: 1.15rem;
  }
`;

/** The causes of the last stop, in the lane beside its knot; on a phone over the log, where they cover no knot. */
export const Chips = styled.div`
  position: absolute;
  z-index: 2;
  right: 3px;
  width: calc(var(--lane) - 0.8rem);
  display: flex;
  flex-direction: column;
  gap: 0.3rem;
  button {
    min-height: 48px;
    flex: none;
    padding: 0 0.9rem;
    border: 2px solid var(--stop);
    border-radius: 8px;
    background: var(--surface);
    font-weight: 600;
    text-align: left;
    cursor: pointer;
    touch-action: manipulation;
  }
  small {
    margin-left: 0.5em;
    color: var(--muted);
    font-weight: 400;
  }
  @media (max-width: 1000px) {
    position: fixed;
    inset: auto 0 0 0 !important;
    width: auto;
    translate: none !important;
    flex-direction: row;
    overflow-x: auto;
    padding: 0.3rem 0.5rem 0.4rem;
    background: var(--ground);
    button {
      white-space: nowrap;
    }
  }
`;

/* Of a fixed size, so that what it says never moves the knots, and the browser need not look whether it does. */
export const Log = styled.footer`
  contain: strict;
  will-change: transform;
  height: 3.4rem;
  grid-area: log;
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.3rem 1rem;
  ol {
    display: flex;
    gap: 0.5rem;
    margin-left: auto;
    overflow-x: auto;
  }
  li {
    contain: content;
    display: flex;
    align-items: center;
    gap: 0.4rem;
    padding-left: 0.5rem;
    background: var(--surface);
    border-radius: 8px;
    white-space: nowrap;
  }
  li button {
    min-height: 48px;
    padding: 0 0.7rem;
    border: 0;
    background: transparent;
    color: var(--action);
    font-weight: 650;
    cursor: pointer;
  }
  @media (max-width: 1000px) {
    height: 5.2rem;
    flex-direction: column;
    flex-wrap: nowrap;
    align-items: stretch;
    ol {
      margin: 0;
      min-height: 50px;
    }
  }
  /* On a phone the advice says what was said, and the knots get the room. */
  @media (max-width: 760px) {
    height: 50px;
    > p {
      position: absolute;
      width: 1px;
      height: 1px;
      overflow: hidden;
      clip-path: inset(50%);
    }
  }
`;

export const Voice = styled.p`
  font-weight: 600;
  min-height: 1.4em;
`;

export const Keys = styled.div`
  background: var(--surface);
  border: 1px solid var(--line);
  border-radius: 10px;
  padding: 1.3rem 1.5rem;
  display: grid;
  gap: 0.8rem;
  justify-items: start;
  max-height: 94dvh;
  overflow-y: auto;
  dl {
    display: grid;
    gap: 0.15rem;
    width: 100%;
  }
  dl > div {
    display: grid;
    grid-template-columns: 10rem 1fr;
    align-items: center;
    gap: 0 0.8rem;
    min-height: 1.9rem;
  }
  dt {
    font-weight: 700;
  }
  dd {
    display: flex;
    align-items: center;
    justify-content: space-between;
    gap: 0.8rem;
  }
  dl button {
    min-height: 1.8rem;
    min-width: 4.6rem;
    border: 0;
    background: transparent;
    color: var(--action);
    font-weight: 600;
    cursor: pointer;
  }
`;
