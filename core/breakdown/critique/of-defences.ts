import type { Defence } from '../breakdown';
import { numberOf, placeOf } from '../causes';
import { deadEnd, isEmpty, isHere, type Rule, saying } from './rule';

/** The rules about a defence. */
export const ofDefences: readonly Rule<Defence>[] = [
  {
    name: 'no name',
    severity: 'error',
    find: ({ title }) =>
      saying(['title'], isEmpty(title) && 'This defence has no name: say what the partner does.'),
  },
  {
    name: 'no signal',
    severity: 'warning',
    find: ({ signal }) =>
      saying(['signal'], isEmpty(signal) && 'No signal: write the first thing you notice.'),
  },
  {
    name: 'an end that is not said',
    severity: 'warning',
    find: ({ leaves }) =>
      saying(
        ['leaves', 'position'],
        isEmpty(leaves.position) && 'No ending position. Say where both end up.',
      ),
  },
  {
    name: 'no answer',
    severity: 'warning',
    find: ({ answers }) =>
      saying(
        ['answers'],
        answers.length === 0 &&
          'No answer: the partner wins here each time. Add one: fix, switch or retreat.',
      ),
  },
  {
    name: 'a window that closes before it opens',
    severity: 'error',
    find: ({ opens, closes }, whole) =>
      saying(
        ['closes'],
        isHere(whole, opens) &&
          isHere(whole, closes) &&
          placeOf(whole.draft, closes) < placeOf(whole.draft, opens) &&
          `It closes (${numberOf(whole.draft, closes)}) before it opens (${numberOf(whole.draft, opens)}): swap the two.`,
      ),
  },
  {
    name: 'becomes a defence that is not here',
    severity: 'error',
    find: ({ becomes }, { draft }) =>
      saying(
        ['becomes'],
        becomes !== undefined &&
          !draft.defences.some(({ id }) => id === becomes) &&
          'It turns into a defence that is not here: choose another.',
      ),
  },
  {
    name: 'becomes itself',
    severity: 'error',
    find: ({ id, becomes }) =>
      saying(['becomes'], becomes === id && 'It turns into itself: choose another defence, or none.'),
  },
  {
    name: 'broken down in a technique that is not here',
    severity: 'error',
    find: ({ brokenDownIn }, whole) => saying(['brokenDownIn'], deadEnd(whole, brokenDownIn)),
  },
  {
    name: 'an answer that does not say how',
    severity: 'warning',
    *find({ answers }) {
      for (const [k, { how }] of answers.entries())
        if (isEmpty(how)) yield [['answers', k, 'how'], 'This answer does not say how.'];
    },
  },
  {
    name: 'a switch that leads nowhere',
    severity: 'error',
    *find({ answers }, whole) {
      for (const [k, answer] of answers.entries())
        if (answer.do === 'switch')
          yield* saying(['answers', k, 'technique'], deadEnd(whole, answer.technique, answer.enteredAt));
    },
  },
  {
    name: 'a switch to itself',
    severity: 'warning',
    *find({ answers }, { technique }) {
      for (const [k, answer] of answers.entries())
        if (answer.do === 'switch' && answer.technique === technique.id && answer.otherSide !== true)
          yield [
            ['answers', k, 'technique'],
            'It switches to this same technique: make it a fix that goes on from a checkpoint, or say that it changes sides.',
          ];
    },
  },
];
