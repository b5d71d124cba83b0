import { type FormEvent, useState } from 'react';
import { Button } from '../../ui/button';
import { TextField } from '../../ui/text-field';

/** The name of somebody who visits. */
export function GuestField({ onAdd }: { onAdd: (name: string) => void }) {
  const [name, setName] = useState('');
  return (
    <form
      style={{ display: 'flex', gap: '0.5rem' }}
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        if (name.trim() === '') return;
        onAdd(name.trim());
        setName('');
      }}
    >
      <TextField
        aria-label="A guest"
        placeholder="A guest’s name"
        value={name}
        maxLength={80}
        onChange={setName}
      />
      <Button type="submit" $quiet isDisabled={name.trim() === ''}>
        Add
      </Button>
    </form>
  );
}
