import { accessEndpoints, type SignedIn } from '@ulkret/contract';
import { Controller } from 'react-hook-form';
import { ask } from '../api/ask';
import { useAskingForm } from '../api/use-form';
import { Button } from '../ui/button';
import { Checkbox } from '../ui/checkbox';
import { Panel, Quiet } from '../ui/frame';
import { Form, TextOf } from '../ui/form';
import { Refused } from '../ui/states';
import { deviceZone } from '../ui/zone';
import { Door, DoorHead } from './SignIn';

const fields = [
  { name: 'academy', label: 'Name of the academy', type: 'text', autoComplete: 'organization' },
  { name: 'name', label: 'Your name', type: 'text', autoComplete: 'name' },
  { name: 'email', label: 'Email', type: 'email', autoComplete: 'username' },
  {
    name: 'password',
    label: 'Password, ten characters or more',
    type: 'password',
    autoComplete: 'new-password',
  },
] as const;

/** Asked for once, on an instance that has nobody yet. */
export default function FirstCoach({
  codeWanted,
  enter,
}: {
  codeWanted: boolean;
  enter: (signedIn: SignedIn) => void;
}) {
  const { control, submit, refusal, busy } = useAskingForm(
    accessEndpoints.firstCoach.body,
    { academy: '', name: '', email: '', password: '', starter: true, zone: deviceZone(), code: '' },
    async (body) => enter(await ask(accessEndpoints.firstCoach, { body })),
  );

  return (
    <Door>
      <DoorHead />
      <Panel>
        <h2>Who is the head coach?</h2>
        <Quiet style={{ marginBottom: '1rem' }}>This instance is empty. You will be its head coach.</Quiet>
        <Form onSubmit={(event) => void submit(event)}>
          {fields.map((field) => (
            <TextOf key={field.name} control={control} {...field} />
          ))}
          {codeWanted && (
            <TextOf
              control={control}
              name="code"
              label="Code printed by the start command"
              autoComplete="off"
            />
          )}
          <Controller
            name="starter"
            control={control}
            render={({ field: { value, onChange } }) => (
              <Checkbox isSelected={value} onChange={onChange}>
                Start with the breakdowns that come with Ulkret
              </Checkbox>
            )}
          />
          <Refused by={refusal} />
          <Button type="submit" isDisabled={busy} $tall>
            Create the academy
          </Button>
        </Form>
      </Panel>
    </Door>
  );
}
