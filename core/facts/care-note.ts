import { CareNote } from '../care';
import { factKind, stranger } from './kind';

export const notes = factKind({
  is: 'note',
  name: 'A care note',
  says: 'a stop for safety: what went wrong, and who is kept off which regions until when; a later one that `replaces` it counts instead',
  schema: CareNote,
  under: 'session',
  faultOf(note, known) {
    const unknown = stranger(known, [note.person]);
    return unknown && `person: ${unknown}`;
  },
});
