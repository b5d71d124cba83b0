import { Override } from '../care';
import { isMinor } from '../people';
import { factKind, stranger } from './kind';

export const overrides = factKind({
  is: 'override',
  name: 'A reason to let somebody drill',
  says: 'lets two adults drill what the house’s rules refuse, with the coach’s reason, in one session',
  schema: Override,
  under: 'session',
  decides: true,
  // Who is a minor is never taken from what was known a while ago.
  strictly: true,
  faultOf(override, known) {
    const people = [override.student, override.partner];
    const unknown = stranger(known, people);
    if (unknown) return `student: ${unknown}`;
    const at = Date.parse(override.at) < Date.parse(known.now) ? override.at : known.now;
    const minor = people.find((id) => id !== null && isMinor(known.students.get(id)!, at));
    return minor ? `student: "${minor}" is a minor, and what is refused for a minor stays refused` : null;
  },
});
