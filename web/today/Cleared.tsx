import type { CareNote } from '@ulkret/core/care';
import { uuidv7 } from 'uuidv7';
import { useHere } from '../api/signed-in';
import { today } from '../device/kit';
import { stamp } from '../device/session-log';
import { useOutbox } from '../device/use-outbox';
import { Sheet, SheetActions } from '../ui/dialog';
import { Quiet } from '../ui/frame';
import { z } from 'zod';
import { AreaOf, Form, useSchemaForm } from '../ui/form';
import { toast } from '../ui/toast';

const Clearance = z.object({ words: z.string().trim().min(3, 'write who cleared them, and when').max(1000) });

/** Writes down, in a coach's name, that a clinician has cleared somebody: as a note in the place of the one that kept them off. */
export default function Cleared({
  note,
  name,
  close,
  kept,
}: {
  note: CareNote;
  name: string;
  close: () => void;
  kept: (note: CareNote) => void;
}) {
  const { coach } = useHere();
  const outbox = useOutbox();
  const { control, written, submit } = useSchemaForm(Clearance, { words: '' });
  const keep = ({ words }: z.infer<typeof Clearance>) => {
    const fact: CareNote = {
      id: uuidv7(),
      session: note.session,
      at: stamp(),
      observer: coach.id,
      person: note.person,
      why: 'cleared',
      regions: [],
      side: null,
      until: today(),
      words,
      replaces: note.id,
    };
    void outbox.record(note.session ?? fact.id, { is: 'notes', fact });
    kept(fact);
    toast(`${name} may train again, recorded in your name`);
    close();
  };
  return (
    <Sheet label={`Record ${name}’s clearance`} width="34rem" written={written} close={close}>
      <Form onSubmit={(event) => void submit(keep)(event)}>
        {' '}
        <h2>Clearance of {name}</h2>
        <p>This records, in your name, what a licensed clinician said. Keep their note on file.</p>
        <AreaOf control={control} name="words" label="Who cleared them, and when" maxLength={1000} />
        <SheetActions label="Record" isDisabled={!written} close={close} />
        <Quiet>It stays on record; a later note corrects it.</Quiet>
      </Form>
    </Sheet>
  );
}
