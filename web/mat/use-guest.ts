import { endpoints, type Kit } from '@ulkret/contract';
import { newStudent, type Student } from '@ulkret/core/people';
import { useSWRConfig } from 'swr';
import { uuidv7 } from 'uuidv7';
import { addressOf } from '../api/ask';
import { useOutbox } from '../device/use-outbox';

/** Takes in somebody who visits, with or without a network. Rejects where this device cannot keep it. */
export function useGuest(): (name: string) => Promise<Student> {
  const outbox = useOutbox();
  const { mutate } = useSWRConfig();
  return async (name) => {
    const guest = newStudent({ id: `g-${uuidv7()}`, name, guest: true });
    await outbox.keepStudent(guest);
    await mutate(
      addressOf(endpoints.kit),
      (known: Kit | undefined) => known && { ...known, students: [...known.students, guest] },
      { revalidate: false },
    );
    return guest;
  };
}
