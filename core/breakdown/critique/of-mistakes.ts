import type { Mistake } from '../breakdown';
import { numberOf, placeOf } from '../causes';
import { isEmpty, isHere, type Rule, saying } from './rule';

/** The rules about a mistake. */
export const ofMistakes: readonly Rule<Mistake>[] = [
  {
    name: 'no name',
    severity: 'error',
    find: ({ title }) => saying(['title'], isEmpty(title) && 'This mistake has no name: say what you see.'),
  },
  {
    name: 'no cue',
    severity: 'warning',
    find: ({ cue }) => saying(['cue'], isEmpty(cue) && 'This mistake has no cue: say the words that fix it.'),
  },
  {
    name: 'a root after its symptom',
    severity: 'error',
    find: ({ at, root }, whole) =>
      saying(
        ['root'],
        isHere(whole, at) &&
          isHere(whole, root) &&
          placeOf(whole.draft, root) > placeOf(whole.draft, at) &&
          `It starts at ${numberOf(whole.draft, root)} and shows at ${numberOf(whole.draft, at)}: a cause comes first, so swap the two.`,
      ),
  },
  {
    name: 'a drill that is not here',
    severity: 'warning',
    *find({ drills }, { beside }) {
      // Words are a drill of the mistake's own; what looks like an id should be one.
      for (const [k, drill] of drills.entries())
        if (beside.drills && /^[a-z0-9]+(-[a-z0-9]+)+$/.test(drill) && !beside.drills.has(drill))
          yield [
            ['drills', k],
            `The drills have no "${drill}": choose one that is there, or describe it in words.`,
          ];
    },
  },
];
