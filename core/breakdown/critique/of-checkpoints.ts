import { type Checkpoint, unitsOf } from '../breakdown';
import type { Rule } from './rule';
import { isEmpty, saying } from './rule';

/** Belief from which on a checkpoint should have a mistake recorded. */
const weightyBelief = 20;

const stateWords =
  /\b(is|are|lies?|lay|stands?|sits?|rests?|holds?|held|touch(es)?|press(es)?|points?|cross(es)?|face[sd]?|looks?|covers?|meets?|reach(es)?|stays?|stops?|blocks?|pins?|closes?|moves?|comes?|keeps?|hangs?|shows?|grips?|wraps?|hooks?|carries|bears|makes?|lifts?|has|have|leads?|forms?|turns?|traps?|joins?|goes|leaves|sticks?|supports?|hugs?|locks?|drives?|pushes|pulls?|posts?|hides?|extends?|bends?)\b/i;

const says = (text: string): boolean => stateWords.test(text);

/** Does the criterion join two statements, each with a verb of its own? */
function joinsTwo(criterion: string): boolean {
  const parts = criterion.split(/\band\b|;/i);
  return parts.length > 1 && parts.filter(says).length > 1;
}

const plain = (text: string): string =>
  text
    .trim()
    .toLocaleLowerCase()
    .replace(/[.!]+$/, '');

/** What can be wrong with one checkpoint. */
export const ofCheckpoints: readonly Rule<Checkpoint>[] = [
  {
    name: 'no title',
    severity: 'error',
    find: ({ title }, _, i) =>
      saying(['title'], isEmpty(title) && `Checkpoint ${i + 1} has no title: say it as a short order.`),
  },
  {
    name: 'no criterion',
    severity: 'error',
    find: ({ criterion }, _, i) =>
      saying(
        ['criterion'],
        isEmpty(criterion) &&
          `Checkpoint ${i + 1} has no criterion: say one thing that is true when it holds.`,
      ),
  },
  {
    name: 'a criterion that nobody can see',
    severity: 'warning',
    find: ({ criterion }) =>
      saying(
        ['criterion'],
        !isEmpty(criterion) &&
          !says(criterion) &&
          'Nobody can see whether this holds: say what touches, lies, points or presses where.',
      ),
  },
  {
    name: 'two statements in one',
    severity: 'warning',
    find: ({ criterion }) =>
      saying(
        ['criterion'],
        joinsTwo(criterion) &&
          'Two statements are joined: keep one here and make the other a proof or a checkpoint.',
      ),
  },
  {
    name: 'the same as an earlier one',
    severity: 'warning',
    *find(checkpoint, { draft }, i) {
      for (const field of ['title', 'criterion'] as const) {
        const text = plain(checkpoint[field]);
        const earlier = draft.checkpoints.findIndex((one) => plain(one[field]) === text);
        if (text !== '' && earlier < i)
          yield [[field], `Checkpoint ${earlier + 1} says the same: join them, or say what differs.`];
      }
    },
  },
  {
    name: 'no proof',
    severity: 'error',
    find: ({ proofs }, _, i) =>
      saying(
        ['proofs'],
        proofs.length === 0 &&
          `Nothing tells whether checkpoint ${i + 1} holds: add what one sees, feels, asks or measures.`,
      ),
  },
  {
    name: 'an empty proof',
    severity: 'error',
    *find({ proofs }) {
      for (const [k, { text }] of proofs.entries())
        if (isEmpty(text)) yield [['proofs', k, 'text'], 'This proof is empty: say it, or take it away.'];
    },
  },
  {
    name: 'weighty, and no mistake recorded',
    severity: 'warning',
    find: ({ id, belief }, { draft }) =>
      saying(
        ['belief'],
        belief >= weightyBelief &&
          !draft.mistakes.some((one) => one.at === id || one.root === id) &&
          `You give this ${belief} of 100, yet no mistake is recorded here: add how it usually goes wrong.`,
      ),
  },
  {
    name: 'a tolerance that nothing can meet',
    severity: 'error',
    *find({ tolerance, variants }) {
      const all = [
        [['tolerance'], tolerance] as const,
        ...variants.map((variant, k) => [['variants', k, 'tolerance'], variant.tolerance] as const),
      ];
      for (const [path, one] of all) {
        if (!one) continue;
        if (one.low > one.high)
          yield [[...path, 'low'], `From ${one.low} to ${one.high} is empty: swap the two.`];
        const units = unitsOf[one.quantity];
        if (!units.includes(one.unit))
          yield [path, `A ${one.quantity} is not measured in ${one.unit}: use ${units.join(' or ')}.`];
      }
    },
  },
  {
    name: 'a variant that does not say when',
    severity: 'error',
    *find({ variants }) {
      for (const [k, { when }] of variants.entries()) {
        if (when.on === 'school' && isEmpty(when.school))
          yield [['variants', k, 'when', 'school'], 'This variant names no school: say whose way it is.'];
        if (when.on === 'situation' && isEmpty(when.situation))
          yield [
            ['variants', k, 'when', 'situation'],
            'This variant names no situation: say when it is used.',
          ];
      }
    },
  },
];
