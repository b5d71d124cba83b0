import type { SignedIn } from '@ulkret/contract';
import { type ComponentProps, type CSSProperties, Suspense, useEffect, useMemo, useState } from 'react';
import { SignedOut } from './SignedOut';
import { keepSignedIn } from '../api/use-api';
import { part, useLoaded } from '../ui/part';
import { firstParts, Inside } from './parts';
import { forget, leave } from './leave';
import { type Here, useSession } from '../api/signed-in';
import { Failed, Loading } from '../ui/states';
import { Page } from '../ui/frame';
import { daysOf } from '../ui/zone';

const FirstCoach = part(() => import('./FirstCoach'));
const Alone = part<{ here: Here }>(() => import('./Alone'));
const SignIn = part(() => import('./SignIn'));

const Opening = () => (
  <Page>
    <Loading what="Ulkret" />
  </Page>
);

/**
 * The door: the sign-in decides what is loaded. A sign-in that ends leaves the user inside: a class is running, and
 * its entries wait on the device. Leaving for good is a reload, and a device that was signed out from elsewhere leaves at once.
 */
export function App() {
  const { data: answer, early, error, mutate } = useSession();
  // A known sign-in is shown before the server confirms it; a missing one is not.
  const data = early && !answer?.coach ? undefined : answer;
  const { coach, academy } = data ?? {};
  const here = useMemo(() => (coach && academy ? { coach, academy } : null), [coach, academy]);
  const [inside, setInside] = useState(here);
  if (here && !early && here !== inside) setInside(here);
  const closed = data?.closed === true;
  const isInside = inside !== null;
  useEffect(() => {
    if (closed) void (isInside ? leave() : forget());
  }, [closed, isInside]);
  const enter = (signedIn: SignedIn) => {
    void keepSignedIn(signedIn);
    void mutate(signedIn, { revalidate: false });
  };
  if (!data)
    return error ? (
      <Page>
        <Failed error={error} retry={() => void mutate()} />
      </Page>
    ) : (
      <Opening />
    );
  const who = here ?? inside;
  if (who) daysOf(who.academy.zone);
  if (data.firstCoachWanted || !who)
    return (
      <Suspense fallback={<Opening />}>
        {data.firstCoachWanted ? (
          <FirstCoach codeWanted={data.codeWanted} enter={enter} />
        ) : (
          <SignIn demo={data.demoSignIn} enter={enter} />
        )}
      </Suspense>
    );
  if (who.coach.role === 'student' || who.coach.role === 'operator')
    return (
      <Suspense fallback={<Opening />}>
        <Alone here={who} />
      </Suspense>
    );
  return (
    <div style={{ '--strip': here ? '0px' : '4rem' } as CSSProperties}>
      {!here && <SignedOut demo={data.demoSignIn} enter={enter} />}
      <Opened key={`${who.academy.id} ${who.academy.zone}`} here={who} signedIn={here !== null} />
    </div>
  );
}

/** The inside, once all of its first page is here. */
function Opened(inside: ComponentProps<typeof Inside>) {
  const [first] = useState(() => firstParts(window.location.pathname));
  return useLoaded(first) ? (
    <Suspense fallback={<Opening />}>
      <Inside {...inside} />
    </Suspense>
  ) : (
    <Opening />
  );
}
