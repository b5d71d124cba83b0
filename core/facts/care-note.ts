import { CareNote } from '../care';
import { factKind, momentOf, othersOwn, renamedIn, stranger } from './kind';

export const notes = factKind({
  is: 'note',
  name: 'A care note',
  says: 'a stop for safety: what went wrong, and who is kept off which regions until when; a later one that `replaces` it counts instead',
  schema: CareNote,
  under: 'session',
  people: ({ person }) => [person],
  renamed: (note, from, to) => renamedIn(note, ['person'], from, to),
  erased: () => null,
  tells: {
    title: 'Stops for safety',
    columns: ['When', 'By', 'What', 'Regions', 'Until', 'Words'],
    row: (note, _, { coach }) => [
      momentOf(note),
      coach(note.observer),
      note.why,
      note.regions.join(', '),
      note.until,
      note.words,
    ],
  },
  faultOf(note, known) {
    const unknown = stranger(known, [note.person]);
    if (unknown) return `person: ${unknown}`;
    const replaced = note.replaces === null ? undefined : known.noteOf.get(note.replaces);
    if (note.why !== 'cleared') return othersOwn(known, replaced);
    if (known.sender && !known.sender.decides)
      return 'observer: only a coach records a clinician’s clearance';
    if (note.replaces === null) return 'replaces: name the note it lifts';
    return note.words.trim().length < 3 ? 'words: say who cleared them, and when' : null;
  },
});
