import { BookOpenText, CalendarDays, ChartSpline, Ellipsis, Grid2x2, Search, Users } from 'lucide-react';
import { Suspense, useRef, useState } from 'react';
import { NavLink, Outlet } from 'react-router';
import styled from 'styled-components';
import { useHere } from '../api/signed-in';
import { BareButton } from '../ui/button';
import { Page } from '../ui/frame';
import { Loading } from '../ui/states';
import { findAnything } from './find-anything';
import type { HouseMenuProps } from './AcademyMenu';
import { part } from '../ui/part';
import { useNarrow } from '../ui/use-narrow';

const places = [
  { to: '/', name: 'Today', Icon: CalendarDays },
  { to: '/library', name: 'Library', Icon: BookOpenText },
  { to: '/mat', name: 'Mat', Icon: Grid2x2 },
  { to: '/readings', name: 'Readings', Icon: ChartSpline },
  { to: '/people', name: 'People', Icon: Users },
] as const;

const Frame = styled.div`
  display: grid;
  grid-template-columns: 6.6rem minmax(0, 1fr);
  min-height: 100vh;
  @media (max-width: 640px) {
    grid-template-columns: minmax(0, 1fr);
    padding-bottom: 4.2rem;
  }
  @media print {
    display: block;
  }
`;

/** Seen when Tab leads to it: past the places, to the page. */
const Skip = styled.a`
  position: fixed;
  inset: 0.5rem auto auto 0.5rem;
  z-index: 40;
  padding: 0.7rem 1rem;
  border-radius: 8px;
  background: var(--action);
  color: var(--on-action);
  &:not(:focus) {
    clip-path: inset(50%);
    width: 1px;
    height: 1px;
    padding: 0;
    overflow: hidden;
  }
`;

const Rail = styled.nav`
  position: sticky;
  top: 0;
  height: 100vh;
  display: flex;
  flex-direction: column;
  gap: 0.25rem;
  padding: 0.8rem 0.5rem;
  background: var(--surface);
  border-right: 1px solid var(--line);
  z-index: 5;
  a {
    display: grid;
    justify-items: center;
    gap: 0.1rem;
    padding: 0.5rem 0.2rem;
    border-radius: 8px;
    color: var(--ink);
    text-decoration: none;
    font-size: 0.92rem;
  }
  a[aria-current='page'] {
    background: var(--wash);
    font-weight: 650;
  }
  /* A phone held sideways: all of it stays in view, down to the academy. */
  @media (max-height: 560px) and (min-width: 641px) {
    height: 100dvh;
    gap: 0;
    overflow-y: auto;
    padding: 0.3rem 0.4rem;
    a {
      gap: 0;
      padding: 0.15rem 0.2rem;
      font-size: 0.86rem;
      line-height: 1.15;
    }
  }
  @media (max-width: 640px) {
    position: fixed;
    inset: auto 0 0 0;
    top: auto;
    height: 4.2rem;
    flex-direction: row;
    justify-content: space-around;
    border: 0;
    border-top: 1px solid var(--line);
    padding: 0.3rem;
  }
  @media print {
    display: none;
  }
`;

const House = styled(BareButton)`
  &:first-of-type {
    margin-top: auto;
  }
  border: 0;
  border-radius: 8px;
  background: transparent;
  padding: 0.5rem 0.2rem;
  font-size: 0.82rem;
  line-height: 1.2;
  color: var(--muted);
  cursor: pointer;
  svg,
  > .more {
    display: none;
  }
  &:first-of-type svg {
    display: inline;
  }
  @media (max-height: 560px) and (min-width: 641px) {
    padding: 0.2rem;
    > .name {
      display: -webkit-box;
      -webkit-box-orient: vertical;
      -webkit-line-clamp: 2;
      overflow: hidden;
    }
  }
  /* On a phone one button leads to both, and to the academy: a name would be cut there. */
  @media (max-width: 640px) {
    &:first-of-type {
      display: none;
    }
    display: grid;
    justify-items: center;
    gap: 0.1rem;
    margin: 0;
    color: var(--ink);
    font-size: 0.92rem;
    svg {
      display: inline;
    }
    > .name {
      display: none;
    }
    > .more {
      display: inline;
    }
  }
`;

const AcademyMenu = part<HouseMenuProps>(() => import('./AcademyMenu'));

/** The academy's name; its menu is loaded when opened. */
function HouseDoor() {
  const { academy } = useHere();
  const narrow = useNarrow();
  const door = useRef<HTMLButtonElement>(null);
  const [open, setOpen] = useState(false);
  return (
    <>
      <House
        ref={door}
        // The accessible name equals the visible text.
        aria-label={`${narrow ? 'More' : academy.name}: data and account`}
        aria-haspopup="dialog"
        aria-expanded={open}
        onPress={() => setOpen(true)}
      >
        <Ellipsis size={24} aria-hidden />
        <span className="name">{academy.name}</span>
        <span className="more">More</span>
      </House>
      <Suspense>{open && <AcademyMenu at={door} close={() => setOpen(false)} />}</Suspense>
    </>
  );
}

/** The five places, always in the same order, with the open class next to them. */
export function Shell() {
  return (
    <Frame>
      <Skip
        href="#page"
        onClick={(event) => {
          event.preventDefault();
          document.querySelector<HTMLElement>('main h1')?.focus();
        }}
      >
        Skip to the page
      </Skip>
      <Rail aria-label="Places">
        {places.map(({ to, name, Icon }) => (
          <NavLink key={to} to={to} end={to === '/'}>
            <Icon size={24} aria-hidden />
            {name}
          </NavLink>
        ))}
        <House aria-label="Find anything (/)" onPress={() => window.dispatchEvent(new Event(findAnything))}>
          <Search size={22} aria-hidden />
        </House>
        <HouseDoor />
      </Rail>
      <Suspense
        fallback={
          <Page>
            <Loading what="the page" />
          </Page>
        }
      >
        <Outlet />
      </Suspense>
    </Frame>
  );
}
