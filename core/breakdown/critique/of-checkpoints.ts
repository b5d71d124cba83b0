import { dequal } from 'dequal';
import { type Checkpoint, type Draft, mobilities, type When } from '../breakdown';
import { numberOf, placeOf } from '../causes';
import { isRelation, possibleIn, unitsOf } from '../proof';
import { opinionIn, statesSomething, statesTwo } from './language';
import type { Rule } from './rule';
import { isEmpty, saying } from './rule';

/** A checkpoint is weighty if its weight is this many times an equal share, and slight under half of that share. */
const weighty = 1.5;
const slight = 0.5;

/** A checkpoint's weight relative to an equal share of the whole. */
const worthOf = ({ belief }: Checkpoint, { checkpoints }: Draft): number =>
  (belief * checkpoints.length) / 100;

const plain = (text: string): string =>
  text
    .trim()
    .toLocaleLowerCase()
    .replace(/[.!]+$/, '');

/** The rules about a checkpoint. */
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
    name: 'an unobservable criterion',
    severity: 'warning',
    find: ({ criterion }) =>
      saying(
        ['criterion'],
        !isEmpty(criterion) &&
          !statesSomething(criterion) &&
          'Not observable: say what touches or presses where.',
      ),
  },
  {
    name: 'two statements in one',
    severity: 'warning',
    find: ({ criterion }) =>
      saying(
        ['criterion'],
        statesTwo(criterion) &&
          'Two statements are joined: keep one here and make the other a sign or a checkpoint.',
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
          yield [[field], `Checkpoint ${earlier + 1} says the same: merge them, or say what differs.`];
      }
    },
  },
  {
    name: 'an opinion for a criterion',
    severity: 'warning',
    find({ criterion }) {
      // A criterion that states nothing has a warning of its own.
      const opinion = statesSomething(criterion) ? opinionIn(criterion) : null;
      return saying(
        ['criterion'],
        opinion && `“${opinion}” is an opinion: two coaches would not agree. Describe what you see.`,
      );
    },
  },
  {
    name: 'no sign',
    severity: 'error',
    find: (checkpoint, { draft }, i) =>
      saying(
        ['proofs'],
        checkpoint.proofs.length === 0 &&
          worthOf(checkpoint, draft) >= slight &&
          `No sign for checkpoint ${i + 1}: add what you see, feel, ask or measure.`,
      ),
  },
  {
    name: 'an empty sign',
    severity: 'error',
    *find({ proofs }) {
      for (const [k, { text }] of proofs.entries())
        if (isEmpty(text)) yield [['proofs', k, 'text'], 'Empty sign: write it or delete it.'];
    },
  },
  {
    name: 'weighty, and no mistake recorded',
    severity: 'warning',
    find: (checkpoint, { draft }) =>
      saying(
        ['belief'],
        worthOf(checkpoint, draft) >= weighty &&
          !draft.mistakes.some((one) => one.at === checkpoint.id || one.root === checkpoint.id) &&
          `This has ${checkpoint.belief} of 100, yet no mistake: add how it usually goes wrong.`,
      ),
  },
  {
    name: 'fixed from a later checkpoint',
    severity: 'error',
    find: ({ mendable }, whole, i) =>
      saying(
        ['mendable'],
        mendable !== null &&
          placeOf(whole.draft, mendable.backTo) > i &&
          `It is fixed from ${numberOf(whole.draft, mendable.backTo)}, which comes later: choose an earlier one, or start over.`,
      ),
  },
  {
    name: 'an incomplete window',
    severity: 'warning',
    *find({ window }) {
      if (!window) return;
      for (const end of ['opens', 'closes'] as const)
        if (isEmpty(window[end]))
          yield [['window', end], `The window does not say when it ${end}: write it, or delete the window.`];
    },
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
        if (isRelation(one)) {
          for (const end of ['what', 'of'] as const)
            if (isEmpty(one[end]))
              yield [[...path, end], 'The relation lacks an end: say what, seen from what.'];
          continue;
        }
        if (one.low === null && one.high === null)
          yield [[...path, 'low'], 'The measure is open at both ends: give at least, at most, or both.'];
        if (one.low !== null && one.high !== null && one.low > one.high)
          yield [[...path, 'low'], `From ${one.low} to ${one.high} is empty: swap the two.`];
        const [low, high] = possibleIn[one.unit];
        const beyond = [one.low, one.high].find((value) => value !== null && (value < low || value > high));
        if (beyond !== undefined && beyond !== null)
          yield [
            [...path, beyond === one.low ? 'low' : 'high'],
            `${beyond} ${one.unit} is out of range: ${low} to ${high}.`,
          ];
        const units = unitsOf[one.quantity];
        if (!units.includes(one.unit))
          yield [path, `A ${one.quantity} is not measured in ${one.unit}: use ${units.join(' or ')}.`];
      }
    },
  },
  {
    name: 'together with itself',
    severity: 'error',
    find: ({ id, together }) =>
      saying(['together'], together === id && 'It comes together with itself: choose another one.'),
  },
  {
    name: 'only signs of failure',
    severity: 'warning',
    find: ({ proofs }) =>
      saying(
        ['proofs'],
        proofs.length > 0 &&
          proofs.every(({ shows }) => shows === 'broken') &&
          'All signs show failure. Add one that shows it holds.',
      ),
  },
  {
    name: 'a measure without a sign',
    severity: 'warning',
    find: ({ tolerance, proofs }) =>
      saying(
        ['proofs'],
        tolerance !== undefined &&
          !isRelation(tolerance) &&
          !proofs.some(({ by }) => by === 'measure') &&
          'A measure, but no sign that measures it: add one.',
      ),
  },
  {
    name: 'a variant that changes nothing',
    severity: 'warning',
    *find({ variants }) {
      for (const [
        k,
        { criterion = '', proofs = [], tolerance, caution = '', ruleTags = [] },
      ] of variants.entries())
        if (
          isEmpty(criterion) &&
          proofs.length === 0 &&
          !tolerance &&
          isEmpty(caution) &&
          ruleTags.length === 0
        )
          yield [['variants', k], 'Variant changes nothing: say what differs or delete it.'];
    },
  },
  {
    name: 'two variants of one condition',
    severity: 'warning',
    *find({ variants }) {
      for (const [k, { when, criterion }] of variants.entries()) {
        const other = variants.findIndex((one) => dequal(one.when, when));
        if (other < k && (criterion ?? '') !== (variants[other]!.criterion ?? ''))
          yield [
            ['variants', k, 'when'],
            `Variant ${other + 1} has the same condition. Make the conditions differ.`,
          ];
      }
    },
  },
  {
    name: 'a cloth variant without cloth',
    severity: 'error',
    *find({ variants }, { technique: { attire } }) {
      if (attire !== 'no-gi') return;
      for (const [k, { when }] of variants.entries())
        if (when.on === 'attire' && when.attire === 'gi')
          yield [
            ['variants', k, 'when'],
            'This variant needs the gi, and the technique has none: change one of the two.',
          ];
    },
  },
  {
    name: 'a variant that does not say when',
    severity: 'error',
    *find({ variants }) {
      for (const [k, { when }] of variants.entries()) {
        if (when.on === 'school' && isEmpty(when.school))
          yield [['variants', k, 'when', 'school'], 'This variant names no school: name it.'];
        if (when.on === 'situation' && isEmpty(when.situation))
          yield [
            ['variants', k, 'when', 'situation'],
            'This variant names no situation: say when it is used.',
          ];
      }
    },
  },
  {
    name: 'a wait for what comes together with it',
    severity: 'error',
    find: ({ id, after, together }, { draft }) =>
      saying(
        ['together'],
        together !== undefined &&
          together !== id &&
          (after.includes(together) ||
            draft.checkpoints.some((one) => one.id === together && one.after.includes(id))) &&
          'One of the two waits for the other, and both come together: delete one of the links.',
      ),
  },
  {
    name: 'a piece that is not here',
    severity: 'error',
    find: ({ piece }, { beside: { pieces } }) =>
      saying(
        ['piece'],
        piece !== undefined &&
          pieces !== undefined &&
          !pieces.has(piece) &&
          `The library has no shared piece "${piece}": choose one that is there, or write its words here.`,
      ),
  },
  {
    name: 'a condition that nothing can be',
    severity: 'error',
    *find({ variants }) {
      for (const [k, { when }] of variants.entries()) {
        if (when.on !== 'body') continue;
        const inWords = mobilities.has(when.fact);
        if (inWords !== (typeof when.value === 'string'))
          yield [
            ['variants', k, 'when', 'value'],
            `The ${when.fact} is ${inWords ? 'low, middle or high' : 'a number'}, and not ${when.value}.`,
          ];
      }
    },
  },
  {
    name: 'a reach that nobody can work out',
    severity: 'warning',
    *find({ variants }, { technique }) {
      for (const [k, { when }] of variants.entries())
        if (when.on === 'body' && when.fact === 'reach margin' && technique.reach === undefined)
          yield [
            ['variants', k, 'when', 'fact'],
            'It asks for the reach margin, and the technique has no reach: say which limb goes around what.',
          ];
    },
  },
  {
    name: 'two bodies that one may have at once',
    severity: 'warning',
    *find({ variants }) {
      for (const [k, { when }] of variants.entries()) {
        const other = variants.findIndex((one) => overlap(one.when, when));
        if (other >= 0 && other < k)
          yield [
            ['variants', k, 'when'],
            `A body may call for this and for variant ${other + 1}: the nearer one is taken. Make the two ranges differ.`,
          ];
      }
    },
  },
];

/** May one body meet both conditions? */
function overlap(a: When, b: When): boolean {
  if (a.on !== 'body' || b.on !== 'body' || a.fact !== b.fact) return false;
  if (typeof a.value !== 'number' || typeof b.value !== 'number') return a.value === b.value && a.is === b.is;
  const [x, y] = [a.value, b.value];
  if (a.is === b.is) return a.is !== '=' || x === y;
  if (a.is === '=' || b.is === '=') {
    const [exact, range] = a.is === '=' ? [x, b] : [y, a];
    const bound = range.value as number;
    return range.is === '<' ? exact < bound : exact > bound;
  }
  return a.is === '<' ? y < x : x < y;
}
