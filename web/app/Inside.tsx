import { lastClass } from '@ulkret/core/session';
import { Suspense, useEffect, useMemo, useState, useSyncExternalStore } from 'react';
import { BrowserRouter, Navigate, Route, Routes } from 'react-router';
import { Outbox } from '../device/outbox';
import { useKit } from '../device/kit';
import { usePrescribed } from '../reader/use-prescribed';
import { OutboxContext, useOutbox } from '../device/use-outbox';
import * as pages from './pages';
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
    <Route path="/mat/:session" element={<pages.Live />} />
    <Route
      element={
        <>
          <Ready />
          <Shell />
        </>
      }
    >
      <Route index element={<pages.Today />} />
      <Route path="library" element={<pages.Library />} />
      <Route path="library/new" element={<pages.NewTechnique />} />
      <Route path="library/import" element={<pages.ImportPage />} />
      <Route path="library/:technique" element={<pages.Technique />} />
      <Route path="library/:technique/editions" element={<pages.Editions />} />
      <Route path="library/:technique/print" element={<pages.Print />} />
      <Route path="library/:technique/learn" element={<pages.Learn />} />
      <Route path="mat" element={<pages.Mat />} />
      <Route path="mat/new" element={<pages.SetUp />} />
      <Route path="mat/:session/after" element={<pages.After />} />
      <Route path="mat/:session/sheet" element={<pages.WallSheet />} />
      <Route path="mat/:session/paper" element={<pages.PaperEntry />} />
      <Route path="waiting" element={<pages.Waiting />} />
      <Route path="readings" element={<pages.Readings />} />
      <Route path="readings/:technique" element={<pages.Squad />} />
      <Route path="readings/:technique/beliefs" element={<pages.Beliefs />} />
      <Route path="readings/:technique/at/:checkpoint" element={<pages.Checkpoint />} />
      <Route path="readings/:technique/:student" element={<pages.Student />} />
      <Route path="people" element={<pages.People />} />
      <Route path="data" element={<pages.Data />} />
      <Route path="today" element={<Navigate to="/" replace />} />
      <Route path="*" element={<Nowhere />} />
    </Route>
  </Routes>
);

/** Fetches what the Mat needs before anybody is on it: the network may be gone by then. On the Mat itself nothing competes with a tap. */
function Ready() {
  const { data } = useKit();
  // In a worker, and not while the page is still being opened.
  const [opened, setOpened] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setOpened(true), 3000);
    return () => clearTimeout(timer);
  }, []);
  usePrescribed(data, opened && data ? lastClass(data.sessions)?.technique : undefined);
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
