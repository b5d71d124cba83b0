import { lastClass } from '@ulkret/core/session';
import { Suspense, useEffect, useMemo, useState, useSyncExternalStore } from 'react';
import { BrowserRouter, Navigate, Route, Routes } from 'react-router';
import { Outbox } from '../device/outbox';
import { useKit } from '../device/kit';
import { useDecisions } from '../reader/use-reading';
import { OutboxContext, useOutbox } from '../device/use-outbox';
import { Live, pages } from './pages';
import { Shell } from './Shell';
import { type Here, HereContext, useSession } from '../api/signed-in';
import { Empty, Loading } from '../ui/states';
import { ButtonLink, Page } from '../ui/ui';

const Nowhere = () => (
  <Page>
    <Empty title="There is nothing at this address.">
      <ButtonLink to="/">Go to Today</ButtonLink>
    </Empty>
  </Page>
);

/** Every place has an address that can be shared and reloaded. */
const Places = () => (
  <Routes>
    <Route path="/mat/:session" element={<Live />} />
    <Route
      element={
        <>
          <Ready />
          <Shell />
        </>
      }
    >
      {pages.map(([path, Page]) => (
        <Route key={path} path={path} element={<Page />} />
      ))}
      <Route path="today" element={<Navigate to="/" replace />} />
      <Route path="*" element={<Nowhere />} />
    </Route>
  </Routes>
);

/** Fetches what the Mat needs before anybody is on it: the network may be gone by then. On the Mat itself nothing competes with a tap. */
function Ready() {
  const { data } = useKit();
  // Not while the page is still being opened.
  const [opened, setOpened] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setOpened(true), 3000);
    return () => clearTimeout(timer);
  }, []);
  useDecisions(opened && data ? lastClass(data.sessions)?.technique : undefined);
  return null;
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
  const outbox = useMemo(() => new Outbox(academyId), [academyId]);
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
            <Places />
          </BrowserRouter>
        </Suspense>
      </OutboxContext>
    </HereContext>
  );
}
