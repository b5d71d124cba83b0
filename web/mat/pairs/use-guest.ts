import { endpoints, type Kit } from '@ulkret/contract';
import { newStudent, type Student } from '@ulkret/core/people';
import { useSWRConfig } from 'swr';
import { uuidv7 } from 'uuidv7';
import { addressOf } from '../../api/ask';
import { useOutbox } from '../../device/use-outbox';

/** Somebody who visits, as they come in by the door. */
export const guestNamed = (name: string): Student => newStudent({ id: `g-${uuidv7()}`, name, guest: true });

/** Keeps somebody who visits, with or without a network. Rejects where this device cannot. */
export function useKeepGuest(): (guest: Student) => Promise<void> {
  const outbox = useOutbox();
  const { mutate } = useSWRConfig();
  return async (guest) => {
    await outbox.keepStudent(guest);
    await mutate(
      addressOf(endpoints.kit),
      (known: Kit | undefined) => known && { ...known, students: [...known.students, guest] },
      { revalidate: false },
    );
  };
}
