import { lastClass } from '@ulkret/core/session';
import { Suspense, useEffect, useMemo, useState, useSyncExternalStore } from 'react';
import { BrowserRouter, Navigate, Route, Routes } from 'react-router';
import { Outbox } from '../offline/outbox';
import { useKit } from '../mat/use-kit';
import { usePrescribed } from '../mat/use-prescribed';
import { OutboxContext, useOutbox } from '../offline/use-outbox';
import { page } from './page';
import { Live } from './parts';
import { Shell } from './Shell';
import { type Here, HereContext, useSession } from './signed-in';
import { Empty, Loading } from './states';
import { ButtonLink, Page } from './ui';

const Today = page(() => import('../today/Today'));
const Library = page(() => import('../library/Library'));
const Technique = page(() => import('../library/Technique'));
const NewTechnique = page<object>(async () => ({
  default: (await import('../library/Library')).NewTechnique,
}));
const ImportPage = page(() => import('../library/ImportPage'));
const Editions = page(() => import('../library/Editions'));
const Print = page(() => import('../library/Print'));
const Learn = page(() => import('../library/Learn'));
const Mat = page(() => import('../mat/Mat'));
const SetUp = page(() => import('../mat/SetUp'));
const After = page(() => import('../mat/After'));
const WallSheet = page(() => import('../mat/WallSheet'));
const PaperEntry = page(() => import('../mat/PaperEntry'));
const Waiting = page(() => import('../offline/Waiting'));
const Readings = page(() => import('../readings/Readings'));
const Squad = page(() => import('../readings/Squad'));
const Student = page(() => import('../readings/Student'));
const Checkpoint = page(() => import('../readings/Checkpoint'));
const Beliefs = page(() => import('../readings/Beliefs'));
const People = page(() => import('../people/People'));
const Data = page(() => import('../data/Data'));

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
      <Route index element={<Today />} />
      <Route path="library" element={<Library />} />
      <Route path="library/new" element={<NewTechnique />} />
      <Route path="library/import" element={<ImportPage />} />
      <Route path="library/:technique" element={<Technique />} />
      <Route path="library/:technique/editions" element={<Editions />} />
      <Route path="library/:technique/print" element={<Print />} />
      <Route path="library/:technique/learn" element={<Learn />} />
      <Route path="mat" element={<Mat />} />
      <Route path="mat/new" element={<SetUp />} />
      <Route path="mat/:session/after" element={<After />} />
      <Route path="mat/:session/sheet" element={<WallSheet />} />
      <Route path="mat/:session/paper" element={<PaperEntry />} />
      <Route path="waiting" element={<Waiting />} />
      <Route path="readings" element={<Readings />} />
      <Route path="readings/:technique" element={<Squad />} />
      <Route path="readings/:technique/beliefs" element={<Beliefs />} />
      <Route path="readings/:technique/at/:checkpoint" element={<Checkpoint />} />
      <Route path="readings/:technique/:student" element={<Student />} />
      <Route path="people" element={<People />} />
      <Route path="data" element={<Data />} />
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
