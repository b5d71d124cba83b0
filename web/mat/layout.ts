import styled from 'styled-components';

/** The one screen of a round: everything in view, nothing moves under a finger. */
export const Mat = styled.main`
  height: 100dvh;
  display: grid;
  grid-template: 'top top' auto 'tiles stage' minmax(0, 1fr) 'log log' auto / 16.5rem minmax(0, 1fr);
  gap: 0.5rem 0.8rem;
  padding: 0.5rem 0.8rem;
  overflow: hidden;
  @media (max-width: 760px) {
    grid-template: 'top' auto 'tiles' auto 'stage' minmax(0, 1fr) 'log' auto / minmax(0, 1fr);
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
  }
  > div:first-of-type {
    margin-right: auto;
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
    gap: 0.3rem 0.4rem;
    > div:first-of-type {
      flex: 1 1 8rem;
    }
    > button.wide:not(:first-child) {
      display: none;
    }
    .step span {
      min-width: 2rem;
    }
    a {
      margin-left: auto;
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
  @media (max-width: 760px) {
    flex-direction: row;
    overflow: auto hidden;
    > button {
      flex: 0 0 10.5rem;
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
  @media (max-width: 760px) {
    --lane: 0px;
  }
`;

// Plain buttons, here and in the tiles: a tap redraws within one frame even on a slow tablet.
export const FinishButton = styled.button`
  width: 100%;
  height: 76px;
  margin-top: 4px;
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
  @media (max-width: 760px) {
    height: 64px;
    padding-left: 11px;
    kbd {
      display: none;
    }
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
  @media (max-width: 760px) {
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
  @media (max-width: 760px) {
    height: 5.2rem;
    flex-direction: column;
    flex-wrap: nowrap;
    align-items: stretch;
    ol {
      margin: 0;
      min-height: 50px;
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
  dl {
    display: grid;
    gap: 0.4rem;
  }
  dl > div {
    display: grid;
    grid-template-columns: 8rem 1fr;
  }
  dt {
    font-weight: 700;
  }
`;
