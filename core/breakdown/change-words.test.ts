import { describe, expect, test } from '@jest/globals';
import { plainBreakdown } from '../test';
import { changesBetween, changeWords, type Draft, moveCheckpoint, retireCheckpoint, setAt } from '.';

const before = plainBreakdown(4);
const wordsOf = (after: Draft): string[] =>
  changesBetween(before, after).map((change) => changeWords(change, before, after));
const edited = (path: (string | number)[], value: unknown) => setAt<Draft>(before, path, value);

describe('a change in words', () => {
  test.each<[(string | number)[], unknown, string]>([
    [['checkpoints', 2, 'title'], 'Hips in', 'Checkpoint 3 “Hips in”: title changed'],
    [['checkpoints', 2, 'criterion'], 'The hips touch.', 'Checkpoint 3 “Point 3”: criterion changed'],
    [['checkpoints', 2, 'caution'], 'Slowly.', 'Checkpoint 3 “Point 3”: caution added'],
    [['checkpoints', 2, 'after'], [], 'Checkpoint 3 “Point 3”: what must hold before changed'],
    [
      ['checkpoints', 2, 'mendable'],
      { backTo: 'c1' },
      'Checkpoint 3 “Point 3”: whether it can be fixed changed',
    ],
    [['mistakes', 0, 'root'], 'c2', 'Mistake “Mistake 1”: root changed'],
    [['mistakes', 0, 'believes'], 'That it holds.', 'Mistake “Mistake 1”: what the student believes changed'],
    [['defences', 1, 'closes'], 'c4', 'Defence “Defence 2”: where it closes changed'],
    [['defences', 1, 'underLoadOnly'], true, 'Defence “Defence 2”: only under load changed'],
    [['defences', 1, 'leaves', 'ahead'], 'attacker', 'Defence “Defence 2”: where it leaves the two changed'],
    [['source'], 'seen again', 'source: changed'],
  ])('of %s to %j', (path, value, says) => {
    expect(wordsOf(edited(path, value))).toEqual([says]);
  });

  test('of a thing that came or went names it', () => {
    const extra = { ...before.mistakes[0]!, id: 'm9', title: 'Elbow high' };
    expect(wordsOf({ ...before, mistakes: [...before.mistakes, extra] })).toEqual([
      'Mistake “Elbow high”: added',
    ]);
    expect(wordsOf({ ...before, defences: before.defences.slice(1) })).toEqual([
      'Defence “Defence 1”: deleted',
    ]);
  });

  test('of a retired checkpoint is told by the name that it had', () => {
    const words = wordsOf(retireCheckpoint(before, 'c2'));
    expect(words).toContain('Checkpoint “Point 2”: deleted');
    expect(words.some((one) => one.startsWith('Archived checkpoints: '))).toBe(true);
  });

  test('of the order names what moved, and nothing that only made room', () => {
    expect(wordsOf(moveCheckpoint(before, 'c4', 0))).toEqual(['Checkpoint 1 “Point 4”: moved']);
    expect(wordsOf(moveCheckpoint(before, 'c1', 3))).toEqual(['Checkpoint 4 “Point 1”: moved']);
  });
});
