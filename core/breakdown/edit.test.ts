import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { plainBreakdown } from '../test';
import {
  addCheckpoint,
  brokenLinks,
  changesBetween,
  changeWords,
  type Draft,
  type Edit,
  edited,
  editsBetween,
  fundamentalsOf,
  joinWithBefore,
  libraryIndex,
  merge,
  mirror,
  misplaced,
  moveCheckpoint,
  placeOf,
  retireCheckpoint,
  shareEvenly,
  searchableOf,
  selfCheck,
  setAt,
  setBelief,
  splitCheckpoint,
  Technique,
  textsOf,
  unretireCheckpoint,
} from '.';

const breakdown: Draft = plainBreakdown(5);
const total = ({ checkpoints }: Draft) => checkpoints.reduce((sum, { belief }) => sum + belief, 0);
const ids = ({ checkpoints }: Draft) => checkpoints.map(({ id }) => id);
const aPlace = fc.integer({ min: 0, max: 4 });

describe('beliefs', () => {
  test('stay a whole whatever is moved, and what is held stays', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(aPlace, fc.integer({ min: -20, max: 130 }), fc.subarray(ids(breakdown))), {
          maxLength: 12,
        }),
        (moves) => {
          let draft = breakdown;
          for (const [place, value, held] of moves) {
            const before = draft;
            const id = ids(draft)[place]!;
            draft = setBelief(draft, id, value, new Set(held));
            expect(total(draft)).toBe(100);
            expect(draft.checkpoints.every(({ belief }) => belief >= 0 && Number.isInteger(belief))).toBe(
              true,
            );
            for (const one of held)
              if (one !== id)
                expect(draft.checkpoints[placeOf(draft, one)]!.belief).toBe(
                  before.checkpoints[placeOf(before, one)]!.belief,
                );
          }
        },
      ),
    );
  });
});

describe('a draft', () => {
  const anEdit = fc.oneof(
    fc.tuple(fc.constant('add' as const), aPlace, aPlace),
    fc.tuple(fc.constant('move' as const), aPlace, aPlace),
    fc.tuple(fc.constant('split' as const), aPlace, aPlace),
    fc.tuple(fc.constant('join' as const), aPlace, aPlace),
    fc.tuple(fc.constant('retire' as const), aPlace, aPlace),
  );

  test('keeps its whole and its ids through any edits, and breaks no link but an order that was moved', () => {
    fc.assert(
      fc.property(fc.array(anEdit, { maxLength: 10 }), (edits) => {
        let draft = breakdown;
        edits.forEach(([what, a, b], n) => {
          const id = ids(draft)[a % draft.checkpoints.length]!;
          if (what === 'add') draft = addCheckpoint(draft, a, `new-${n}`);
          else if (what === 'move') draft = moveCheckpoint(draft, id, b);
          else if (what === 'split') draft = splitCheckpoint(draft, id, `half-${n}`);
          else if (what === 'join') draft = joinWithBefore(draft, id);
          else draft = retireCheckpoint(draft, id);
        });
        expect(total(draft)).toBe(100);
        expect(new Set(ids(draft)).size).toBe(draft.checkpoints.length);
        const faults = brokenLinks(draft).filter(({ message }) => !/does not come before/.test(message));
        expect(faults).toEqual([]);
        // No checkpoint is lost: each one remains, or is retired.
        const known = new Set([...ids(draft), ...(draft.retired ?? []).map(({ id }) => id)]);
        expect(ids(breakdown).every((id) => known.has(id))).toBe(true);
      }),
    );
  });

  test('written from nothing is worth the same everywhere until somebody weighs it', () => {
    const worths = (draft: Draft) => draft.checkpoints.map(({ belief }) => belief);
    let draft: Draft = { ...breakdown, checkpoints: [] };
    for (const n of [0, 1, 2]) draft = addCheckpoint(draft, n, `new-${n}`);
    expect(worths(draft)).toEqual([34, 33, 33]);
    const weighed = addCheckpoint(setBelief(draft, 'new-0', 60), 3, 'new-3');
    expect(worths(weighed)).toEqual([60, 20, 20, 0]);
    expect(worths(shareEvenly(weighed))).toEqual([25, 25, 25, 25]);
  });

  test('retires a checkpoint with its reps’ id, and takes it back', () => {
    const without = retireCheckpoint(breakdown, 'c3');
    expect(ids(without)).toEqual(['c1', 'c2', 'c4', 'c5']);
    expect(without.mistakes.find(({ id }) => id === 'm3')).toMatchObject({ at: 'c2', root: 'c2' });
    expect(fundamentalsOf({ ...without } as never, 'c4')).toEqual(['c1', 'c2']);
    const back = unretireCheckpoint(without, 'c3');
    expect(ids(back)).toEqual(['c1', 'c2', 'c4', 'c5', 'c3']);
    expect(back.retired).toEqual([]);
  });

  test('mirrored twice is as it was, in every text', () => {
    const mirrored = (draft: Draft) =>
      textsOf(draft).reduce<Draft>((sum, { path, text }) => setAt(sum, path, mirror(text)), draft);
    const sided = setAt(
      breakdown,
      ['checkpoints', 0, 'criterion'],
      'The {right} hand is under the {left} arm.',
    );
    expect(mirrored(sided).checkpoints[0]!.criterion).toBe('The {left} hand is under the {right} arm.');
    expect(mirrored(mirrored(sided))).toEqual(sided);
  });

  test('orders every checkpoint after what it needs', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 12 }), (n) => {
        const chain = plainBreakdown(n);
        for (const { id } of chain.checkpoints)
          for (const before of fundamentalsOf(chain, id))
            expect(placeOf(chain, before)).toBeLessThan(placeOf(chain, id));
      }),
    );
  });
});

describe('changes and merges', () => {
  const edited = (path: (string | number)[], value: unknown) => setAt(breakdown, path, value);

  test('are found field by field, by id and not by place', () => {
    const moved = moveCheckpoint(breakdown, 'c5', 0);
    expect(changesBetween(breakdown, moved).every(({ is }) => is === 'moved')).toBe(true);
    const [change] = changesBetween(breakdown, edited(['checkpoints', 1, 'title'], 'New'));
    expect(change).toMatchObject({
      path: ['checkpoints', 'c2', 'title'],
      is: 'changed',
      before: 'Point 2',
      after: 'New',
    });
    expect(changeWords(change!, breakdown, edited(['checkpoints', 1, 'title'], 'New'))).toBe(
      'Checkpoint 2 “New”: title changed',
    );
    expect(changesBetween(breakdown, structuredClone(breakdown))).toEqual([]);
  });

  test('of two who changed different fields are both in; what only one changed is taken', () => {
    const mine = edited(['checkpoints', 0, 'title'], 'Mine');
    const theirs = edited(['checkpoints', 0, 'criterion'], 'Theirs is there.');
    const { merged, conflicts } = merge(breakdown, mine, theirs);
    expect(conflicts).toEqual([]);
    expect(merged.checkpoints[0]).toMatchObject({ title: 'Mine', criterion: 'Theirs is there.' });
    expect(merge(breakdown, mine, breakdown).merged).toEqual(mine);
    expect(merge(breakdown, breakdown, theirs).merged).toEqual(theirs);
  });

  test('of the same field are a conflict, and nothing of either is lost', () => {
    const mine = edited(['checkpoints', 0, 'title'], 'Mine');
    const theirs = edited(['checkpoints', 0, 'title'], 'Theirs');
    const { merged, conflicts } = merge(breakdown, mine, theirs);
    expect(conflicts).toEqual([
      { path: ['checkpoints', 'c1', 'title'], base: 'Point 1', mine: 'Mine', theirs: 'Theirs' },
    ]);
    expect(merged.checkpoints[0]!.title).toBe('Mine');
    expect(setAt(merged, conflicts[0]!.path, 'Theirs').checkpoints[0]!.title).toBe('Theirs');
  });

  test('keep what one added and what the other added, and ask where one took out what the other changed', () => {
    const { merged } = merge(
      breakdown,
      addCheckpoint(breakdown, 1, 'mine'),
      addCheckpoint(breakdown, 5, 'theirs'),
    );
    expect(ids(merged)).toEqual(['c1', 'mine', 'c2', 'c3', 'c4', 'c5', 'theirs']);
    const gone = { ...breakdown, mistakes: breakdown.mistakes.slice(1) };
    const { conflicts, merged: kept } = merge(breakdown, gone, edited(['mistakes', 0, 'cue'], 'Better.'));
    expect(conflicts).toHaveLength(1);
    expect(kept.mistakes.some(({ cue }) => cue === 'Better.')).toBe(true);
  });
});

describe('finding a technique', () => {
  const of = (id: string, name: string, words: string) =>
    searchableOf(
      Technique.parse({
        id,
        name,
        aliases: [],
        kind: 'submission',
        attire: 'either',
        startPosition: 'Mount',
        mechanism: 'spinal',
        regions: ['neck'],
        ruleTags: [],
        loadSpeed: 'slow',
        safetyNote: '',
      }),
      { checkpoints: [{ ...breakdown.checkpoints[0]!, title: words }] },
    );
  const index = libraryIndex([
    of('a', 'Rear strangle', 'Arm deep under the chin'),
    of('b', 'Straight armlock', 'Knees together'),
    of('c', 'Kneebar', 'Hips past the knee'),
  ]);

  test('forgives a letter or two, takes a beginning, and wants all words', () => {
    expect(index.find('stranlge')).toEqual(['a']);
    expect(index.find('armlo')).toEqual(['b']);
    expect(index.find('knee').sort()).toEqual(['b', 'c']);
    expect(index.find('knees together')).toEqual(['b']);
    expect(index.find('rear knees')).toEqual([]);
    expect(index.find('mount').length).toBe(3);
  });
});

describe('a student’s check', () => {
  test('leaves one out, is never in order, and names as few as have to move', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 3, max: 10 }),
        fc.infiniteStream(fc.double({ min: 0, max: 0.999, noNaN: true })),
        (n, chance) => {
          const whole = plainBreakdown(n);
          const { shown, missing } = selfCheck(whole, () => chance.next().value as number);
          expect([...shown, missing].sort()).toEqual(ids(whole).sort());
          const wrong = misplaced(whole, shown);
          expect(wrong.length).toBeGreaterThan(0);
          const rest = shown.filter((id) => !wrong.includes(id));
          expect(rest).toEqual([...rest].sort((a, b) => placeOf(whole, a) - placeOf(whole, b)));
        },
      ),
    );
    expect(misplaced(breakdown, ['c1', 'c3', 'c4', 'c2', 'c5'])).toEqual(['c2']);
    expect(misplaced(breakdown, ['c1', 'c2', 'c4'])).toEqual([]);
  });
});

describe('edits', () => {
  const value: fc.Arbitrary<unknown> = fc.letrec((tie) => ({
    any: fc.oneof(
      { depthSize: 'small' },
      fc.constantFrom(1, 2, 'a', 'b', true, null),
      fc.array(tie('any'), { maxLength: 3 }),
      fc.dictionary(fc.constantFrom('a', 'b', 'c'), tie('any')),
    ),
  })).any;

  test('between any two values make the one into the other, also after they were sent', () => {
    fc.assert(
      fc.property(value, value, (before, after) => {
        const edits = editsBetween(before, after);
        expect(edited(before, edits)).toEqual(after);
        expect(edited(before, JSON.parse(JSON.stringify(edits)) as Edit[])).toEqual(after);
        expect(editsBetween(after, structuredClone(after))).toEqual([]);
      }),
    );
  });

  test('are as few as what was edited, whatever else there is', () => {
    const draft = plainBreakdown(40);
    const after = setAt(setAt(draft, ['checkpoints', 7, 'proofs', 0, 'text'], 'x'), ['source'], 'y');
    expect(editsBetween(draft, after)).toEqual([
      { path: ['source'], value: 'y' },
      { path: ['checkpoints', 7, 'proofs', 0, 'text'], value: 'x' },
    ]);
    const { caution: _, ...without } = { ...draft.checkpoints[0]!, caution: 'z' };
    expect(editsBetween({ ...without, caution: 'z' }, without)).toEqual([{ path: ['caution'] }]);
    for (const change of [moveCheckpoint(draft, 'c3', 9), retireCheckpoint(draft, 'c3')])
      expect(edited(draft, editsBetween(draft, change))).toEqual(change);
  });
});
