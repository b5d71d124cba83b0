import type { CareNote } from '@ulkret/core/care';
import { useState } from 'react';
import { uuidv7 } from 'uuidv7';
import { useHere } from '../api/signed-in';
import { today } from '../device/kit';
import { stamp } from '../device/session-log';
import { useOutbox } from '../device/use-outbox';
import { Button } from '../ui/button';
import { Sheet } from '../ui/dialog';
import { Quiet, Row } from '../ui/frame';
import { TextArea } from '../ui/text-field';
import { toast } from '../ui/toast';

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
  const [words, setWords] = useState('');
  const keep = () => {
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
      words: words.trim(),
      replaces: note.id,
    };
    void outbox.record(note.session ?? fact.id, { is: 'notes', fact });
    kept(fact);
    toast(`${name} may train again, recorded in your name`);
    close();
  };
  return (
    <Sheet label={`Record ${name}’s clearance`} width="34rem" written={words !== ''} close={close}>
      <h2>Clearance of {name}</h2>
      <p>This records, in your name, what a licensed clinician said. Keep their note on file.</p>
      <TextArea label="Who cleared them, and when" value={words} maxLength={1000} onChange={setWords} />
      <Row>
        <Button isDisabled={words.trim().length < 3} onPress={keep}>
          Record
        </Button>
        <Button $quiet onPress={close}>
          Cancel
        </Button>
      </Row>
      <Quiet>It stays on record; a later note corrects it.</Quiet>
    </Sheet>
  );
}
