import styled from 'styled-components';
import { narrow, sideways, upright } from './held';

/** The places of the Mat's parts, whichever way the device is held. */
export const Layout = styled.main`
  height: calc(100dvh - var(--strip, 0px));
  display: grid;
  grid-template:
    'top top' auto 'tiles advice' auto 'tiles stage' minmax(0, 1fr) 'tiles endings' auto
    'log log' auto / 17.5rem minmax(0, 1fr);
  gap: 0.5rem 0.8rem;
  padding: 0.5rem 0.8rem;
  overflow: hidden;
  ${upright} {
    grid-template:
      'top' auto 'tiles' auto 'advice' auto 'stage' minmax(0, 1fr) 'endings' auto 'log' auto
      / minmax(0, 1fr);
  }
  ${narrow} {
    gap: 0.35rem;
    padding: 0.35rem 0.5rem;
  }
  ${sideways} {
    grid-template:
      'top top top' auto 'tiles advice endings' auto 'tiles stage endings' minmax(0, 1fr)
      'log stage endings' auto / clamp(7.2rem, 19vw, 10rem) minmax(0, 1fr) clamp(6rem, 16vw, 8.5rem);
    gap: 0.35rem 0.5rem;
    padding: 0.35rem 0.5rem;
  }
`;

/** What no coach may miss: it takes the place of the advice, whole. */
export const Trouble = styled.p`
  grid-area: advice;
  min-height: 52px;
  display: grid;
  align-items: center;
  padding: 0.2rem 0.8rem;
  border-radius: 10px;
  background: var(--stop);
  color: var(--surface);
  font-weight: 600;
  line-height: 1.15;
  ${narrow} {
    font-size: 0.9rem;
  }
`;
