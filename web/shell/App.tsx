import type { SignedIn } from '@ulkret/contract';
import { lazy, Suspense, useMemo } from 'react';
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

/** The door: who is signed in decides what is loaded. */
export function App() {
  const { data, error, mutate } = useSession();
  const { coach, academy } = data ?? {};
  const here = useMemo(() => (coach && academy ? { coach, academy } : null), [coach, academy]);
  const enter = (signedIn: SignedIn) => void mutate(signedIn, { revalidate: false });
  if (!data)
    return error ? (
      <Page>
        <Failed error={error} retry={() => void mutate()} />
      </Page>
    ) : (
      <Opening />
    );
  if (!here && !data.firstCoachWanted) return <SignIn demo={data.demoSignIn} enter={enter} />;
  return (
    <Suspense fallback={<Opening />}>{here ? <Inside here={here} /> : <FirstCoach enter={enter} />}</Suspense>
  );
}
