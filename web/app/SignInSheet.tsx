import type { SignedIn } from '@ulkret/contract';
import styled from 'styled-components';
import { Sheet } from '../ui/dialog';
import { SignInForm } from './SignIn';

const Fields = styled.div`
  display: grid;
  gap: 1rem;
  form {
    display: grid;
    gap: 1rem;
  }
`;

export interface SignInSheetProps {
  demo: SignedIn['demoSignIn'];
  enter: (signedIn: SignedIn) => void;
  close: () => void;
}

/** The sign-in over the page that goes on. */
export default function SignInSheet({ demo, enter, close }: SignInSheetProps) {
  return (
    <Sheet label="Sign in again" width="26rem" close={close}>
      <Fields>
        <SignInForm demo={demo} enter={enter} />
      </Fields>
    </Sheet>
  );
}
