import { placeOf } from '../breakdown';
import { Step } from '../prescription';
import { erasedWords, factKind, momentOf, renamedIn, stranger } from './kind';

export const steps = factKind({
  is: 'step',
  name: 'A decision about a correction',
  says: 'what a coach decided about one student on one technique: a correction accepted, edited, declined with its reason, signed off by a sign, or ended; or such a decision undone',
  schema: Step,
  under: 'session',
  decides: true,
  people: ({ student }) => [student],
  renamed: (step, from, to) => renamedIn(step, ['student'], from, to),
  erased: ({ does, ...step }) => ({
    ...step,
    does:
      'reason' in does
        ? { ...does, reason: erasedWords }
        : 'terms' in does
          ? { ...does, terms: { ...does.terms, cue: '' } }
          : does,
  }),
  edition: ({ technique, edition }) => ({ technique, edition }),
  tells: {
    title: 'What coaches decided',
    columns: ['When', 'By', 'Technique', 'Decision', 'Reason'],
    row: (step, _, { coach, technique }) => [
      momentOf(step),
      coach(step.observer),
      technique(step.technique),
      step.does.is,
      'reason' in step.does ? step.does.reason : '',
    ],
  },
  faultOf(step, known) {
    const unknown = stranger(known, [step.student]);
    if (unknown) return `student: ${unknown}`;
    const edition = known.editions.get(step.technique)?.get(step.edition);
    if (!edition) return `edition: "${step.technique}" has no edition ${step.edition}`;
    const { does } = step;
    const named =
      does.is === 'declined'
        ? [does.checkpoint]
        : does.is === 'accepted' || does.is === 'edited'
          ? [does.terms.checkpoint, does.terms.startAt, does.terms.endAt]
          : [];
    const missing = named.find((id) => id !== null && placeOf(edition, id) < 0);
    return missing === undefined
      ? null
      : `terms: edition ${edition.edition} of ${edition.technique} has no checkpoint "${missing}"`;
  },
});
