import type { SignedIn } from '@ulkret/contract';
import { Suspense, useState } from 'react';
import styled from 'styled-components';
import { Button } from '../ui/button';
import { part } from '../ui/part';
import type { SignInSheetProps } from './SignInSheet';

const SignInSheet = part<SignInSheetProps>(() => import('./SignInSheet'));

const Strip = styled.div`
  height: var(--strip);
  display: flex;
  align-items: center;
  gap: 1rem;
  padding: 0 1rem;
  background: var(--soft-wash);
  border-bottom: 2px solid var(--soft);
  p {
    flex: 1;
    line-height: 1.15;
  }
`;

/** Above the page while the sign-in has ended: the work goes on, and is sent after signing in again. */
export function SignedOut({
  demo,
  enter,
}: {
  demo: SignedIn['demoSignIn'];
  enter: (signedIn: SignedIn) => void;
}) {
  const [open, setOpen] = useState(false);
  return (
    <Strip role="alert">
      <p>
        <strong>You are signed out.</strong> Carry on: your entries stay on this device and are sent once you
        sign in again.
      </p>
      <Button onPress={() => setOpen(true)}>Sign in</Button>
      <Suspense>{open && <SignInSheet demo={demo} enter={enter} close={() => setOpen(false)} />}</Suspense>
    </Strip>
  );
}
