import { endpoints, type SignedIn } from '@ulkret/contract';
import { type FormEvent, useState } from 'react';
import styled from 'styled-components';
import { ApiRefusal, ask } from '../api/ask';
import { Button } from '../ui/button';
import { Panel, Quiet, Row } from '../ui/frame';
import { TextField } from '../ui/text-field';
import { Title } from '../ui/title';

export const Door = styled.main`
  min-height: 100vh;
  display: grid;
  place-content: center;
  grid-template-columns: minmax(0, 26rem);
  gap: 1.2rem;
  padding: 1rem;
  form {
    display: grid;
    gap: 1rem;
  }
`;

export const DoorHead = () => (
  <header>
    <Title>Ulkret</Title>
    <Quiet>Where the reps end, why, and what to correct first.</Quiet>
  </header>
);

/** Email and password; calls back with who is signed in then. */
export function SignInForm({
  demo,
  enter,
}: {
  demo: SignedIn['demoSignIn'];
  enter: (signedIn: SignedIn) => void;
}) {
  const [email, setEmail] = useState('');
  const [password, setPassword] = useState('');
  const [refusal, setRefusal] = useState<ApiRefusal | null>(null);
  const [busy, setBusy] = useState(false);

  const signIn = async (given: { email: string; password: string }) => {
    setBusy(true);
    setRefusal(null);
    try {
      enter(await ask(endpoints.signIn, { body: given }));
    } catch (error) {
      if (!(error instanceof ApiRefusal)) throw error;
      setRefusal(error);
    } finally {
      setBusy(false);
    }
  };

  return (
    <>
      <Panel>
        <form
          onSubmit={(event: FormEvent) => {
            event.preventDefault();
            void signIn({ email, password });
          }}
        >
          <TextField
            label="Email"
            type="email"
            autoComplete="username"
            value={email}
            onChange={setEmail}
            isRequired
          />
          <TextField
            label="Password"
            type="password"
            autoComplete="current-password"
            value={password}
            onChange={setPassword}
            isRequired
          />
          {refusal && (
            <p role="alert" style={{ color: 'var(--stop)' }}>
              {refusal.message} {refusal.todo}
            </p>
          )}
          <Button type="submit" isDisabled={busy} $tall>
            Sign in
          </Button>
        </form>
      </Panel>
      {demo && (
        <Panel>
          <h2>This is the demo academy</h2>
          <Quiet>
            Everybody in it is made up. {demo.email} · {demo.password}
          </Quiet>
          <Row style={{ marginTop: '0.7rem' }}>
            <Button $quiet isDisabled={busy} onPress={() => void signIn(demo)}>
              Enter the demo
            </Button>
          </Row>
        </Panel>
      )}
    </>
  );
}

export const SignIn = (form: Parameters<typeof SignInForm>[0]) => (
  <Door>
    <DoorHead />
    <SignInForm {...form} />
  </Door>
);
