import { Button } from 'react-aria-components';
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
  }
`;

export const Tiles = styled.nav`
  grid-area: tiles;
  display: flex;
  flex-direction: column;
  gap: 0.45rem;
  overflow-y: auto;
  padding: 3px;
  @media (max-width: 760px) {
    flex-direction: row;
    overflow: auto hidden;
    > * {
      flex: 0 0 10.5rem;
    }
  }
`;

export const Stage = styled.section`
  grid-area: stage;
  position: relative;
  overflow-y: auto;
  padding: 3px;
  > ol > svg {
    z-index: 1;
  }
`;

export const FinishButton = styled(Button)`
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
  &[data-pressed] {
    filter: brightness(0.8);
  }
  @media (max-width: 760px) {
    padding-left: 11px;
    kbd {
      display: none;
    }
  }
`;

/** The causes of the last stop, beside its knot; on a phone above the log, where they cover no knot. */
export const Chips = styled.div`
  position: absolute;
  z-index: 2;
  right: 0.6rem;
  top: calc(var(--row) * var(--row-height) + 3px);
  min-height: var(--row-height);
  max-width: 58%;
  display: flex;
  flex-wrap: wrap;
  justify-content: flex-end;
  align-content: center;
  gap: 0.4rem;
  button {
    min-height: 48px;
    padding: 0 0.8rem;
    border: 2px solid var(--stop);
    border-radius: 24px;
    background: var(--surface);
    font-weight: 600;
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
    inset: auto 0.5rem 0.4rem 0.5rem;
    max-width: none;
    min-height: 5.6rem;
    justify-content: flex-start;
    background: var(--ground);
    button {
      padding: 0 0.6rem;
      font-size: 0.92rem;
    }
  }
`;

export const Log = styled.footer`
  grid-area: log;
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.3rem 1rem;
  min-height: 3.2rem;
  ol {
    display: flex;
    gap: 0.5rem;
    margin-left: auto;
    overflow-x: auto;
  }
  li {
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
    flex-direction: column;
    align-items: stretch;
    ol {
      margin: 0;
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
