import { accessEndpoints, endpoints } from '@ulkret/contract';
import { useState } from 'react';
import useSWR from 'swr';
import type { z } from 'zod';
import { type ApiRefusal, ask } from '../api/ask';
import { keepSignedIn } from '../api/use-api';
import { useAskingForm } from '../api/use-form';
import { Button } from '../ui/button';
import { Form, TextOf } from '../ui/form';
import { Page, Panel, Quiet } from '../ui/frame';
import { Empty, Failed, Loading, Refused } from '../ui/states';
import { Title } from '../ui/title';
import { Door, DoorHead } from './SignIn';

/** Where an invitation leads: a name, an email and a password, and one is inside. */
export default function Joining() {
  const [secret] = useState(() => window.location.hash.slice(1));
  const { data, error, mutate } = useSWR(secret === '' ? null : ['join', secret], () =>
    ask(endpoints.openInvitation, { body: { secret } }),
  );
  if (secret === '' || (error as ApiRefusal | undefined)?.status === 404)
    return (
      <Page>
        <Title>No invitation here</Title>
        <Empty title="This invitation is no longer valid.">
          <p>It was used, expired or revoked. Ask your head coach for a new one.</p>
        </Empty>
      </Page>
    );
  if (!data)
    return (
      <Page>
        {error ? (
          <Failed error={error as Error} retry={() => void mutate()} />
        ) : (
          <Loading what="your invitation" />
        )}
      </Page>
    );
  return (
    <Door>
      <DoorHead />
      <Panel>
        <h2>{data.email === null ? `Join ${data.academy}` : `${data.name}: a new password`}</h2>
        <Quiet style={{ marginBottom: '1rem' }}>
          {data.email === null
            ? `As ${data.role}. Choose what you sign in with from now on.`
            : `For ${data.academy}. All your devices are signed out.`}
        </Quiet>
        <Fields secret={secret} name={data.name} known={data.email} />
      </Panel>
    </Door>
  );
}

const Written = (accessEndpoints.acceptInvitation.body as z.ZodObject).omit({ secret: true }) as z.ZodObject<{
  name: z.ZodString;
  email: z.ZodString;
  password: z.ZodString;
}>;

function Fields({
  secret,
  name,
  known,
}: {
  secret: string;
  name: string;
  /** The email of a person it lets back in; null for somebody new. */
  known: string | null;
}) {
  const { control, submit, refusal, busy } = useAskingForm(
    Written,
    { name, email: known ?? '', password: '' },
    async (body) => {
      await keepSignedIn(await ask(accessEndpoints.acceptInvitation, { body: { ...body, secret } }));
      window.location.assign('/');
    },
  );
  return (
    <Form onSubmit={(event) => void submit(event)}>
      {known === null && <TextOf control={control} name="name" label="Your name" autoComplete="name" />}
      <TextOf
        control={control}
        name="email"
        label="Email"
        type="email"
        autoComplete="username"
        isReadOnly={known !== null}
      />
      <TextOf
        control={control}
        name="password"
        label="Password, ten characters or more"
        type="password"
        autoComplete="new-password"
      />
      <Refused by={refusal} />
      <Button type="submit" isDisabled={busy} $tall>
        {known === null ? 'Join' : 'Save and sign in'}
      </Button>
    </Form>
  );
}
