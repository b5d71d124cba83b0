import { faultOf, Rep, withoutNothing } from '../rep';
import { editionOf, factKind, stranger } from './kind';

export const reps = factKind({
  is: 'rep',
  name: 'A rep',
  says: 'one attempt: who on whom, on which side, at which rung, and how it ended',
  schema: Rep,
  plain: withoutNothing,
  under: 'session',
  recounts: true,
  faultOf(rep, known) {
    const edition = editionOf(known, rep);
    if (!edition) return `technique: the library has no edition ${rep.edition} of "${rep.technique}"`;
    const session = rep.session === null ? undefined : known.sessionOf.get(rep.session);
    // A sequence leads out of the technique of the evening; nothing else does.
    if (session && session.technique !== rep.technique && rep.follows === undefined)
      return `technique: this class drills "${session.technique}"; a rep of another technique says which rep it goes on from`;
    const unknown = stranger(known, [rep.student, rep.partner]);
    if (unknown) return `student: ${unknown}`;
    const fault = faultOf(edition, rep);
    return fault && `${fault.field}: ${fault.reason}`;
  },
});
