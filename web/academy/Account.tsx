import { accessEndpoints, type Device, type OutputOf } from '@ulkret/contract';
import { useState } from 'react';
import { ask } from '../api/ask';
import { useHere } from '../api/signed-in';
import { knowsPasskeys, makePasskey } from '../api/passkey';
import { useApi } from '../api/use-api';
import { useAsking } from '../api/use-asking';
import { useAskingForm } from '../api/use-form';
import { Button } from '../ui/button';
import { Form, TextOf } from '../ui/form';
import { Head, Page, Panel, Quiet, Row } from '../ui/frame';
import { List } from '../ui/list';
import { Loaded, Refused } from '../ui/states';
import { Title } from '../ui/title';
import { toast } from '../ui/toast';
import { dayOf, timeOf } from '../ui/words';

/** What is one's own: the password, and the devices on which one is signed in. */
export default function Account() {
  const { coach, academy } = useHere();
  const devices = useApi(accessEndpoints.devices);
  const { asking, refusal, busy } = useAsking();
  const signOut = (device: Device) =>
    asking(async () => {
      const told = await ask(accessEndpoints.signOutDevice, { params: { id: device.id } });
      await devices.mutate(told, { revalidate: false });
      toast(`${device.device} is signed out`);
    }, 'It is still signed in.');
  const everywhere = () =>
    asking(async () => {
      await devices.mutate(await ask(accessEndpoints.signOutEverywhere), { revalidate: false });
      toast('All other devices are signed out');
    }, 'They are still signed in.');
  return (
    <Page>
      <Head>
        <div>
          <Title>Your account</Title>
          <Quiet>
            {coach.name}, {coach.role} at {academy.name}
          </Quiet>
        </div>
      </Head>
      <NewPassword changed={() => void devices.mutate()} />
      <Passkeys />
      <Panel>
        <h2>Where you are signed in</h2>
        <Quiet>Devices are signed out after two idle weeks, and after thirty days in any case.</Quiet>
        <Refused by={refusal} />
        <Loaded of={devices} what="your devices">
          {({ devices: list }) => (
            <>
              <List>
                {list.map((device) => (
                  <li key={device.id}>
                    <span>
                      {device.device.replace(/^a/, 'A')}
                      {device.here && ', this one'}: since {dayOf(device.openedAt)}, last seen{' '}
                      {dayOf(device.seenAt)} at {timeOf(device.seenAt)}
                    </span>
                    {!device.here && (
                      <Button $quiet isDisabled={busy} onPress={() => void signOut(device)}>
                        Sign out
                      </Button>
                    )}
                  </li>
                ))}
              </List>
              {list.length > 2 && (
                <Row style={{ marginTop: '0.6rem' }}>
                  <Button $quiet isDisabled={busy} onPress={() => void everywhere()}>
                    Sign out all others
                  </Button>
                </Row>
              )}
            </>
          )}
        </Loaded>
      </Panel>
    </Page>
  );
}

/** A passkey is made on a device, stays there, and signs in without a password. */
function Passkeys() {
  const own = useApi(accessEndpoints.passkeys);
  const { asking, refusal, busy } = useAsking();
  const change = (to: () => Promise<OutputOf<typeof accessEndpoints.passkeys>>) =>
    asking(async () => void (await own.mutate(await to(), { revalidate: false })), 'Nothing was changed.');
  return (
    <Panel>
      <h2>Passkeys</h2>
      <Quiet>
        {knowsPasskeys()
          ? 'Sign in with this device’s finger, face or PIN. A new password removes them all.'
          : 'Passkeys need HTTPS: open Ulkret by its secure address.'}
      </Quiet>
      <Loaded of={own} what="your passkeys">
        {({ passkeys }) =>
          passkeys.length > 0 && (
            <List>
              {passkeys.map(({ id, device, madeAt }) => (
                <li key={id}>
                  <span>
                    {device.replace(/^a/, 'A')}, since {dayOf(madeAt)}
                  </span>
                  <Button
                    $quiet
                    isDisabled={busy}
                    onPress={() => void change(() => ask(accessEndpoints.removePasskey, { params: { id } }))}
                  >
                    Remove
                  </Button>
                </li>
              ))}
            </List>
          )
        }
      </Loaded>
      <Refused by={refusal} />
      {knowsPasskeys() && (
        <Row style={{ marginTop: '0.6rem' }}>
          <Button $quiet isDisabled={busy} onPress={() => void change(makePasskey)}>
            Add a passkey
          </Button>
        </Row>
      )}
    </Panel>
  );
}

function NewPassword({ changed }: { changed: () => void }) {
  // A sent form starts empty: no password stays in it.
  const [round, setRound] = useState(0);
  return (
    <Panel>
      <h2>Change your password</h2>
      <PasswordForm
        key={round}
        done={() => {
          setRound(round + 1);
          toast('The password is changed; your other devices are signed out');
          changed();
        }}
      />
    </Panel>
  );
}

function PasswordForm({ done }: { done: () => void }) {
  const { control, submit, refusal, busy } = useAskingForm(
    accessEndpoints.changePassword.body,
    { old: '', password: '' },
    async (body) => {
      await ask(accessEndpoints.changePassword, { body });
      done();
    },
  );
  return (
    <Form onSubmit={(event) => void submit(event)}>
      <TextOf
        control={control}
        name="old"
        label="Old password"
        type="password"
        autoComplete="current-password"
      />
      <TextOf
        control={control}
        name="password"
        label="New password, ten characters or more"
        type="password"
        autoComplete="new-password"
      />
      <Refused by={refusal} />
      <Button type="submit" isDisabled={busy} style={{ justifySelf: 'start' }}>
        Change password
      </Button>
    </Form>
  );
}
