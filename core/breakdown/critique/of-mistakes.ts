import type { Mistake } from '../breakdown';
import { numberOf, placeOf } from '../causes';
import { forceIn } from './language';
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
    name: 'force or speed as a correction',
    severity: 'error',
    *find({ cue, drills }) {
      for (const [path, text] of [
        [['cue'], cue] as const,
        ...drills.map((drill, k) => [['drills', k], drill] as const),
      ]) {
        const force = forceIn(text);
        if (force) yield [path, `“${force}” asks for force or speed: say what to move.`];
      }
    },
  },
];
