import type { SignedIn } from '@ulkret/contract';
import { type CSSProperties, lazy, Suspense, useMemo, useState } from 'react';
import { SignedOut } from '../access/SignedOut';
import { SignIn } from '../access/SignIn';
import { useSession } from './signed-in';
import { Failed, Loading } from './states';
import { Page } from './ui';

const FirstCoach = lazy(() => import('../access/FirstCoach'));
const Inside = lazy(() => import('./Inside'));

const Opening = () => (
  <Page>
    <Loading what="Ulkret" />
  </Page>
);

/**
 * The door: who is signed in decides what is loaded. Whoever was inside while the sign-in ended stays inside: a class is
 * running, and what it enters waits on the device. Leaving for good is a reload.
 */
export function App() {
  const { data, error, mutate } = useSession();
  const { coach, academy } = data ?? {};
  const here = useMemo(() => (coach && academy ? { coach, academy } : null), [coach, academy]);
  const [inside, setInside] = useState(here);
  if (here && here !== inside) setInside(here);
  const enter = (signedIn: SignedIn) => void mutate(signedIn, { revalidate: false });
  if (!data)
    return error ? (
      <Page>
        <Failed error={error} retry={() => void mutate()} />
      </Page>
    ) : (
      <Opening />
    );
  if (data.firstCoachWanted)
    return (
      <Suspense fallback={<Opening />}>
        <FirstCoach enter={enter} />
      </Suspense>
    );
  const who = here ?? inside;
  if (!who) return <SignIn demo={data.demoSignIn} enter={enter} />;
  return (
    <div style={{ '--strip': here ? '0px' : '4rem' } as CSSProperties}>
      {!here && <SignedOut demo={data.demoSignIn} enter={enter} />}
      <Suspense fallback={<Opening />}>
        <Inside here={who} key={who.academy.id} signedIn={here !== null} />
      </Suspense>
    </div>
  );
}
