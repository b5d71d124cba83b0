import { accessEndpoints, type SignedIn } from '@ulkret/contract';
import styled from 'styled-components';
import { ask } from '../api/ask';
import { knowsPasskeys, passkeyAnswer } from '../api/passkey';
import { useAsking } from '../api/use-asking';
import { useAskingForm } from '../api/use-form';
import { Button } from '../ui/button';
import { Panel, Quiet, Row } from '../ui/frame';
import { Form, TextOf } from '../ui/form';
import { Refused } from '../ui/states';
import { Title } from '../ui/title';

export const Door = styled.main`
  min-height: 100vh;
  display: grid;
  place-content: center;
  grid-template-columns: minmax(0, 26rem);
  gap: 1.2rem;
  padding: 1rem;
`;

export const DoorHead = () => (
  <header>
    <Title>Ulkret</Title>
    <Quiet>Where reps end, why, and what to correct first.</Quiet>
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
  const { control, submit, sent, refusal, busy } = useAskingForm(
    accessEndpoints.signIn.body,
    { email: '', password: '' },
    async (body) => enter(await ask(accessEndpoints.signIn, { body })),
  );
  return (
    <>
      <Panel>
        <Form onSubmit={(event) => void submit(event)}>
          <TextOf control={control} name="email" label="Email" type="email" autoComplete="username" />
          <TextOf
            control={control}
            name="password"
            label="Password"
            type="password"
            autoComplete="current-password"
          />
          <Refused by={refusal} />
          <Button type="submit" isDisabled={busy} $tall>
            Sign in
          </Button>
          {knowsPasskeys() && <ByPasskey enter={enter} />}
        </Form>
      </Panel>
      {demo && (
        <Panel>
          <h2>This is the demo academy</h2>
          <Quiet>
            Everybody in it is made up. {demo.email} · {demo.password}
          </Quiet>
          <Row style={{ marginTop: '0.7rem' }}>
            <Button $quiet isDisabled={busy} onPress={() => void sent(demo)}>
              Enter the demo
            </Button>
          </Row>
        </Panel>
      )}
    </>
  );
}

function ByPasskey({ enter }: { enter: (signedIn: SignedIn) => void }) {
  const { asking, refusal, busy } = useAsking();
  return (
    <>
      <Button
        $quiet
        isDisabled={busy}
        onPress={() =>
          void asking(async () => {
            const passkey = await passkeyAnswer();
            enter(await ask(accessEndpoints.signInByPasskey, { body: { passkey } }));
          }, 'You are not signed in.')
        }
      >
        Use a passkey
      </Button>
      <Refused by={refusal} />
    </>
  );
}

export default function SignIn(form: Parameters<typeof SignInForm>[0]) {
  return (
    <Door>
      <DoorHead />
      <SignInForm {...form} />
    </Door>
  );
}
