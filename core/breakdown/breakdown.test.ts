import { describe, expect, test } from '@jest/globals';
import { plainBreakdown } from '../test';
import { critique } from './critique';
import {
  answersOf,
  Breakdown,
  doorsOf,
  type Draft,
  type Id,
  positionOf,
  positionsNamed,
  publishable,
  readFor,
  shareByRank,
  shippedPositions,
  Technique,
  withAnswerIds,
} from '.';

/**
 * What a breakdown can say besides the situations of `situations.test.ts`. Each is a small change of a sound
 * breakdown; the schema must read it, the critique must find no error, and it must come back unchanged.
 */

const library = (id: string): Id[] | null =>
  id === 'test-lock' || id === 'other-lock' ? ['c1', 'c2', 'c3', 'c4', 'c5'] : null;

const lock = (more: Partial<Technique> = {}) =>
  Technique.parse({
    id: 'test-lock',
    name: 'Test lock',
    aliases: [],
    kind: 'submission',
    attire: 'either',
    startPosition: 'Guard',
    mechanism: 'rotation',
    regions: ['shoulder'],
    ruleTags: [],
    loadSpeed: 'fast',
    safetyNote: 'Slowly.',
    ...more,
  });

function said(change: (draft: Draft) => void, technique = lock()): Breakdown {
  const draft: Draft = plainBreakdown(5);
  draft.checkpoints.forEach((one, i) => (one.criterion = `Your knee touches spot ${i + 1}.`));
  draft.defences.forEach(
    (one) => (one.answers = [{ do: 'mend', at: one.opens, how: 'Begin again.', bait: false }]),
  );
  change(draft);
  expect(critique(draft, technique, library).filter(({ severity }) => severity === 'error')).toEqual([]);
  const kept = Breakdown.parse(JSON.parse(JSON.stringify(draft)));
  // A field that no schema knew would be dropped without a word.
  expect(kept).toEqual(draft);
  return kept;
}
const point = (draft: Draft, id: Id) => draft.checkpoints.find((one) => one.id === id)!;
const defence = (draft: Draft, id: Id) => draft.defences.find((one) => one.id === id)!;

describe('a breakdown can say', () => {
  test('everything for one side, to be read for the other, with near and far left alone', () => {
    const draft = said(
      (d) => (point(d, 'c2').criterion = 'Your {right} wrist touches the near side, under their {left} arm.'),
    );
    expect(readFor(point(draft, 'c2').criterion, 'left')).toBe(
      'Your left wrist touches the near side, under their right arm.',
    );
  });

  test('a timed block: within seconds of the one before, and both at the same moment', () => {
    said((d) => Object.assign(point(d, 'c4'), { withinSeconds: 1.5, together: 'c3', after: ['c2'] }));
    const draft: Draft = plainBreakdown(5);
    point(draft, 'c4').together = 'c9';
    expect(Breakdown.safeParse(draft).success).toBe(false);
  });

  test('what a lock loads before its finish, what a defence loads on its own student, and what a control never does', () => {
    const wrist = lock({
      loads: [
        { region: 'shoulder', whom: 'partner', from: null },
        { region: 'wrist', whom: 'partner', from: 'c2' },
      ],
    });
    said(() => {}, wrist);
    said(
      () => {},
      lock({ kind: 'defence', regions: ['neck'], loads: [{ region: 'neck', whom: 'student', from: null }] }),
    );
    const lost = lock({ loads: [{ region: 'wrist', whom: 'partner', from: 'c9' }] });
    expect(publishable(critique(plainBreakdown(5), lost, library))).toBe(false);
  });

  test('what the partner is told to play, and which answer was tried, by an id that it keeps', () => {
    const draft = said((d) => {
      defence(d, 'd2').task = 'Hide the heel as soon as the leg is crossed, at half speed.';
      defence(d, 'd2').answers = [
        { id: 'walk', do: 'mend', at: 'c2', how: 'Walk the hip round.', bait: false },
        { do: 'retreat', to: 'Half guard', how: 'Let the leg go.', bait: false },
      ];
    });
    expect(answersOf(defence(draft, 'd2')).map(({ id }) => id)).toEqual(['walk', 'd2-answer-2']);
    const kept = withAnswerIds(draft);
    // Moved, they are the same answers.
    const moved = [...defence(kept, 'd2').answers].reverse();
    expect(answersOf({ id: 'd2', answers: moved }).map(({ id }) => id)).toEqual(['d2-answer-2', 'walk']);
  });

  test('from which position it starts, where it is entered from and where a defence leads, as one thing by any of its names', () => {
    const draft = said(
      (d) => {
        d.entries = [{ id: 'e', from: 'Neutral tie', joinsAt: 'c1', how: 'Step in.' }];
        defence(d, 'd1').leaves.position = 'guard';
      },
      lock({ startPosition: 'Closed guard' }),
    );
    const named = positionsNamed({ startPosition: 'Closed guard' }, draft);
    expect(new Set(named.map((text) => positionOf(text, shippedPositions)?.id))).toEqual(
      new Set(['closed-guard', 'collar-tie']),
    );
  });

  test('the order of importance alone, with ties', () => {
    const draft = said((d) => {
      const rank = new Map([
        ['c4', 1],
        ['c2', 2],
        ['c3', 2],
      ]);
      d.checkpoints = shareByRank(d, (id) => rank.get(id)).checkpoints;
    });
    const [, c2, c3, c4] = draft.checkpoints.map(({ belief }) => belief);
    expect(c4! > c2! && Math.abs(c2! - c3!) <= 1).toBe(true);
  });

  test('where one can go on to, from what held, on which side, and what spares a training partner', () => {
    const draft = said((d) => {
      d.exits = [{ id: 'x', at: 'c3', technique: 'other-lock', enteredAt: 'c2', how: 'Fall.', unsafe: true }];
      defence(d, 'd3').answers = [
        {
          id: 'far',
          do: 'switch',
          technique: 'other-lock',
          otherSide: true,
          how: 'The far arm.',
          bait: false,
        },
      ];
    });
    expect(doorsOf(draft)).toMatchObject([
      { by: 'x', answers: null, heldTo: 'c3', enteredAt: 'c2', unsafe: true },
      { by: 'far', answers: 'd3', heldTo: 'c2', enteredAt: null, otherSide: true },
    ]);
  });

  test('and what it cannot say is refused: a thing that is not there', () => {
    const draft: Draft = plainBreakdown(5);
    draft.entries = [{ id: 'e', from: 'a clinch', joinsAt: 'c9', how: 'Step in.' }];
    expect(publishable(critique(draft, lock(), library))).toBe(false);
    expect(Breakdown.safeParse(draft).success).toBe(false);
  });
});
