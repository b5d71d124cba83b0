import { lastClass } from '@ulkret/core/session';
import { type ReactNode, Suspense, useEffect, useMemo, useState, useSyncExternalStore } from 'react';
import { ErrorBoundary } from 'react-error-boundary';
import { BrowserRouter, Navigate, Route, Routes, useLocation } from 'react-router';
import { Outbox } from '../device/outbox';
import { useKit } from '../device/kit';
import { useDecisions } from '../reader/use-reading';
import { OutboxContext, useOutbox } from '../device/use-outbox';
import { Broken } from './Broken';
import { findAnything } from './find-anything';
import { part } from '../ui/part';
import { movedTo } from './moved';
import { Live, liveAt, pageAt, pages } from './pages';
import { useScroll } from './use-scroll';
import { toastSaid } from '../ui/toast';
import { Shell } from './Shell';
import { ProveAgain } from './ProveAgain';
import { type Here, HereContext, useSession } from '../api/signed-in';
import { Empty, Loading } from '../ui/states';
import { ButtonLink } from '../ui/button-link';
import { Page } from '../ui/frame';

const Toasts = part(() => import('../ui/Toasts'));
const Find = part<{ close: () => void }>(() => import('./Find'));
const Keys = part<{ close: () => void }>(() => import('./Keys'));

const Nowhere = () => (
  <Page>
    <Empty title="Page not found.">
      <ButtonLink to="/">Go to Today</ButtonLink>
    </Empty>
  </Page>
);

/** How long a page takes to be opened, at most, on a slow tablet. */
const openingMs = 2000;

const Places = () => (
  <>
    <Afterwards>
      <Ready />
    </Afterwards>
    <Shell />
  </>
);

/** What breaks breaks alone, until another page is opened. */
function Alone({ children }: { children: ReactNode }) {
  const { key } = useLocation();
  return (
    <ErrorBoundary FallbackComponent={Broken} resetKeys={[key]}>
      {children}
    </ErrorBoundary>
  );
}

/** Every place has an address that can be shared and reloaded. On the Mat, which is opened on slow tablets, no other is read. */
function Addresses() {
  const { pathname, search, hash } = useLocation();
  const now = movedTo(pathname);
  if (now !== null) return <Navigate to={`${now}${search}${hash}`} replace />;
  if (pageAt(pathname) === Live)
    return (
      <Routes>
        <Route
          path={liveAt}
          element={
            <Alone>
              <Live />
            </Alone>
          }
        />
      </Routes>
    );
  return (
    <Routes>
      <Route element={<Places />}>
        {pages.map(([path, Page]) => (
          <Route
            key={path}
            path={path}
            element={
              <Alone>
                <Page />
              </Alone>
            }
          />
        ))}
        <Route path="*" element={<Nowhere />} />
      </Route>
    </Routes>
  );
}

/** What a key opens on every page, where nothing else has taken it. */
const opens: Readonly<Record<string, 'find' | 'keys'>> = { '/': 'find', '?': 'keys' };

/** What is there on every page: where it was scrolled to comes back, keys open what they do, and toasts say what was done. */
function Around() {
  useScroll();
  const [open, setOpen] = useState<'find' | 'keys' | null>(null);
  const [saying, setSaying] = useState(false);
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const at = event.target as HTMLElement;
      const wanted = opens[event.key];
      if (!wanted || event.ctrlKey || event.metaKey || event.altKey) return;
      if (at.closest('input, textarea, select, [contenteditable], [role=dialog]')) return;
      event.preventDefault();
      setOpen(wanted);
    };
    const ask = () => setOpen('find');
    const say = () => setSaying(true);
    window.addEventListener('keydown', press);
    window.addEventListener(findAnything, ask);
    window.addEventListener(toastSaid, say);
    return () => {
      window.removeEventListener('keydown', press);
      window.removeEventListener(findAnything, ask);
      window.removeEventListener(toastSaid, say);
    };
  }, []);
  return (
    <>
      <Addresses />
      <Suspense>{open === 'find' && <Find close={() => setOpen(null)} />}</Suspense>
      <Suspense>{open === 'keys' && <Keys close={() => setOpen(null)} />}</Suspense>
      <Suspense>{saying && <Toasts />}</Suspense>
      <ProveAgain />
    </>
  );
}

/** Fetches what the Mat needs before anybody is on it: the network may be gone by then. On the Mat itself nothing competes with a tap. */
function Ready() {
  const { data } = useKit();
  useDecisions(data && lastClass(data.sessions)?.technique);
  return null;
}

/** What is drawn once the page has been opened, and takes nothing from its opening. */
function Afterwards({ children }: { children: ReactNode }) {
  const [opened, setOpened] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setOpened(true), openingMs);
    return () => clearTimeout(timer);
  }, []);
  return opened && children;
}

/** Looks who is signed in when the server says that nobody is. */
function Watch() {
  const outbox = useOutbox();
  const signedOut = useSyncExternalStore(outbox.subscribe, () => outbox.current().held === 'signed out');
  const { mutate } = useSession();
  useEffect(() => {
    if (signedOut) void mutate();
  }, [signedOut, mutate]);
  return null;
}

/** Everything behind the sign-in: the pages, and the outbox of this device. */
export default function Inside({ here, signedIn }: { here: Here; signedIn: boolean }) {
  const academyId = here.academy.id;
  const coachId = here.coach.id;
  const outbox = useMemo(() => new Outbox(academyId, coachId), [academyId, coachId]);
  useEffect(() => outbox.open(), [outbox]);
  useEffect(() => {
    if (signedIn) outbox.flushSoon();
  }, [outbox, signedIn]);
  return (
    <HereContext value={here}>
      <OutboxContext value={outbox}>
        <Watch />
        <Suspense
          fallback={
            <Page>
              <Loading what="the page" />
            </Page>
          }
        >
          <BrowserRouter>
            <Around />
          </BrowserRouter>
        </Suspense>
      </OutboxContext>
    </HereContext>
  );
}
