import { Override } from '../care';
import { isMinor } from '../people';
import { erasedWords, factKind, momentOf, renamedIn, stranger } from './kind';

export const overrides = factKind({
  is: 'override',
  name: 'An override',
  says: 'lets two adults drill what the rules refuse, with the coach’s reason, in one class',
  schema: Override,
  under: 'session',
  people: ({ student, partner }) => (partner === null ? [student] : [student, partner]),
  renamed: (override, from, to) => renamedIn(override, ['student', 'partner'], from, to),
  erased: (override) => ({ ...override, reason: erasedWords }),
  tells: {
    title: 'Overridden rules',
    columns: ['When', 'By', 'Technique', 'Reason'],
    row: (override, _, { coach, technique }) => [
      momentOf(override),
      coach(override.observer),
      technique(override.technique),
      override.reason,
    ],
  },
  decides: true,
  // Who is a minor is never taken from what was known a while ago.
  strictly: true,
  faultOf(override, known) {
    const people = [override.student, override.partner];
    const unknown = stranger(known, people);
    if (unknown) return `student: ${unknown}`;
    const at = Date.parse(override.at) < Date.parse(known.now) ? override.at : known.now;
    const minor = people.find((id) => id !== null && isMinor(known.students.get(id)!, at));
    return minor ? `student: "${minor}" is a minor, and a rule cannot be overridden for a minor` : null;
  },
});
