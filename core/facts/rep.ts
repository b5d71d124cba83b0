import { type Breakdown, type Id, readFor } from '../breakdown';
import { faultOf, followFault, Rep, rungNames, withoutNothing } from '../rep';
import { editionOf, factKind, momentOf, renamedIn, stranger } from './kind';

/** How a rep ended, in the words of its breakdown. */
function endingWords(rep: Rep, breakdown: Breakdown | undefined): string {
  const title = (id: Id | null): string => {
    const found = breakdown?.checkpoints.find((one) => one.id === id)?.title;
    return found === undefined ? String(id) : readFor(found, rep.side);
  };
  switch (rep.outcome) {
    case 'stopped':
      return `stopped at “${title(rep.stop)}”`;
    case 'forced':
      return `forced past ${rep.failed.map((id) => `“${title(id)}”`).join(', ')}`;
    case 'left':
      return 'switched to another technique';
    default:
      return rep.outcome;
  }
}

export const reps = factKind({
  is: 'rep',
  name: 'A rep',
  says: 'one attempt: who on whom, on which side, at which rung, and how it ended',
  schema: Rep,
  plain: withoutNothing,
  under: 'session',
  people: ({ student, partner }) => (partner === null ? [student] : [student, partner]),
  renamed: (rep, from, to) => renamedIn(rep, ['student', 'partner'], from, to),
  erased: (rep) => ({ ...rep, note: '' }),
  edition: ({ technique, edition }) => ({ technique, edition }),
  tells: {
    title: 'Reps',
    columns: ['When', 'Technique', 'As', 'Side', 'Rung', 'How it ended', 'Note', 'Logged by'],
    row: (rep, person, { coach, technique, edition }) => [
      momentOf(rep),
      technique(rep.technique),
      rep.student === person ? 'attacker' : 'partner',
      rep.side,
      rungNames[rep.rung],
      endingWords(rep, edition(rep.technique, rep.edition)),
      rep.note,
      coach(rep.observer),
    ],
  },
  recounts: true,
  faultOf(rep, known) {
    const edition = editionOf(known, rep);
    if (!edition) return `technique: the library has no edition ${rep.edition} of "${rep.technique}"`;
    const session = rep.session === null ? undefined : known.sessionOf.get(rep.session);
    // A sequence leads out of the technique of the evening; nothing else does.
    if (session && session.technique !== rep.technique && rep.follows === undefined)
      return `technique: this class drills "${session.technique}"; a rep of another technique must name the rep it follows`;
    const unknown = stranger(known, [rep.student, rep.partner]);
    if (unknown) return `student: ${unknown}`;
    const fault = faultOf(edition, rep);
    if (fault) return `${fault.field}: ${fault.reason}`;
    const before = rep.follows && known.repOf.get(rep.follows.rep);
    const wrong = before && followFault(rep, before, editionOf(known, before));
    return wrong ? `follows: ${wrong}` : null;
  },
});
