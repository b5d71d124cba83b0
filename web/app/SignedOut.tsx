import type { SignedIn } from '@ulkret/contract';
import { useState } from 'react';
import styled from 'styled-components';
import { Button } from '../ui/button';
import { Sheet } from '../ui/dialog';
import { SignInForm } from './SignIn';

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

const Fields = styled.div`
  display: grid;
  gap: 1rem;
  form {
    display: grid;
    gap: 1rem;
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
        <strong>Your sign-in has ended.</strong> Go on: what you enter stays on this device, and is sent when
        you have signed in again.
      </p>
      <Button onPress={() => setOpen(true)}>Sign in</Button>
      <Sheet label="Sign in again" width="26rem" isOpen={open} close={() => setOpen(false)}>
        <Fields>
          <SignInForm demo={demo} enter={enter} />
        </Fields>
      </Sheet>
    </Strip>
  );
}
