import { endpoints, type SignedIn } from '@ulkret/contract';
import { useState } from 'react';
import { Controller, useForm } from 'react-hook-form';
import { ApiRefusal, ask } from '../api/ask';
import { Button } from '../ui/button';
import { Checkbox } from '../ui/checkbox';
import { Panel, Quiet } from '../ui/frame';
import { TextField } from '../ui/text-field';
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
export default function FirstCoach({ enter }: { enter: (signedIn: SignedIn) => void }) {
  const { control, handleSubmit } = useForm({
    defaultValues: { academy: '', name: '', email: '', password: '', starter: true },
  });
  const [refusal, setRefusal] = useState<ApiRefusal | null>(null);
  const [faults, setFaults] = useState<Record<string, string>>({});

  const make = handleSubmit(async (values) => {
    const read = endpoints.firstCoach.body.safeParse(values);
    setFaults(
      Object.fromEntries((read.error?.issues ?? []).map(({ path, message }) => [String(path[0]), message])),
    );
    if (!read.success) return;
    try {
      enter(await ask(endpoints.firstCoach, { body: read.data }));
    } catch (error) {
      if (!(error instanceof ApiRefusal)) throw error;
      setRefusal(error);
    }
  });

  return (
    <Door>
      <DoorHead />
      <Panel>
        <h2>Who is the first coach?</h2>
        <Quiet style={{ marginBottom: '1rem' }}>This instance is empty. You will be its head coach.</Quiet>
        <form onSubmit={(event) => void make(event)} noValidate>
          {fields.map(({ name, ...field }) => (
            <Controller
              key={name}
              name={name}
              control={control}
              render={({ field: { value, onChange } }) => (
                <TextField {...field} value={value} onChange={onChange} error={faults[name]} />
              )}
            />
          ))}
          <Controller
            name="starter"
            control={control}
            render={({ field: { value, onChange } }) => (
              <Checkbox isSelected={value} onChange={onChange}>
                Start with the breakdowns that ship with Ulkret
              </Checkbox>
            )}
          />
          {refusal && (
            <p role="alert" style={{ color: 'var(--stop)' }}>
              {refusal.message} {refusal.todo}
            </p>
          )}
          <Button type="submit" $tall>
            Make the academy
          </Button>
        </form>
      </Panel>
    </Door>
  );
}
