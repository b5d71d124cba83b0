import { endpoints } from '@ulkret/contract';
import { BookOpenText, CalendarDays, ChartSpline, Grid2x2, Search, Users } from 'lucide-react';
import { Suspense, useState } from 'react';
import { Button as AriaButton, Dialog, DialogTrigger, Popover } from 'react-aria-components';
import { NavLink, Outlet } from 'react-router';
import styled from 'styled-components';
import { findAnything } from './find-anything';
import { forgetAnswers } from '../api/store';
import { syncWords } from '../device/outbox';
import { useSyncState } from '../device/use-outbox';
import { ApiRefusal, ask } from '../api/ask';
import { useHere } from '../api/signed-in';
import { Loading } from '../ui/states';
import { applyTheme, readTheme, type Theme } from '../ui/theme';
import { Button, ButtonLink } from '../ui/button';
import { Choice } from '../ui/choice';
import { Page, Quiet } from '../ui/frame';
import { toast } from '../ui/toast';

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

const House = styled(AriaButton)`
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
  @media (max-width: 640px) {
    margin: 0;
    max-width: 4.6rem;
    overflow: hidden;
    text-overflow: ellipsis;
    max-height: 3.4rem;
  }
`;

const Menu = styled(Dialog)`
  background: var(--surface);
  border: 1px solid var(--line);
  border-radius: 8px;
  padding: 1.1rem;
  display: grid;
  gap: 0.9rem;
  min-width: 17rem;
`;

function HouseMenu() {
  const { coach, academy } = useHere();
  const sync = useSyncState();
  const [theme, setTheme] = useState<Theme>(readTheme);
  const [trouble, setTrouble] = useState<string | null>(null);
  const signOut = async () => {
    try {
      await ask(endpoints.signOut);
    } catch (error) {
      if (!(error instanceof ApiRefusal)) throw error;
      setTrouble(`You are still signed in. ${error.message}`);
      return;
    }
    await forgetAnswers().catch(() => undefined);
    // A reload lets go of everything that this page still knows.
    window.location.assign('/');
  };
  return (
    <DialogTrigger>
      <House aria-label={`${academy.name}: data and account`}>{academy.name}</House>
      <Popover placement="right bottom">
        <Menu aria-label="Academy">
          {({ close }) => (
            <>
              <div>
                <h2>{academy.name}</h2>
                <Quiet>
                  {coach.name}, {coach.role} coach · {syncWords(sync)}
                </Quiet>
              </div>
              {(sync.waiting > 0 || sync.refused.length > 0) && (
                <ButtonLink to="/waiting" $quiet onClick={close}>
                  What this device still holds
                </ButtonLink>
              )}
              {trouble && <p role="alert">{trouble}</p>}
              <Choice
                label="Look"
                value={theme}
                options={[
                  { value: 'system', text: 'As the device' },
                  { value: 'light', text: 'Light' },
                  { value: 'dark', text: 'Dark' },
                ]}
                onChange={(value) => {
                  setTheme(value);
                  applyTheme(value);
                }}
              />
              <Button
                $quiet
                onPress={() => {
                  void navigator.clipboard
                    .writeText(window.location.href)
                    .then(() => toast('Link copied'))
                    .catch(() => toast(window.location.href));
                  close();
                }}
              >
                Copy the link to this page
              </Button>
              <ButtonLink to="/data" $quiet onClick={close}>
                Data: files in and out
              </ButtonLink>
              <Button $quiet onPress={() => void signOut()}>
                Sign out
              </Button>
            </>
          )}
        </Menu>
      </Popover>
    </DialogTrigger>
  );
}

/** The five places, always in the same order, with what is open beside them. */
export function Shell() {
  return (
    <Frame>
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
        <HouseMenu />
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
