import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { plainBreakdown } from '../test';
import { Breakdown, causesAt, defencesOpenAt, fundamentalsOf, mirror, readFor } from '.';

const breakdown = plainBreakdown(5);

describe('a breakdown', () => {
  test('refuses a checkpoint that must come after a later one', () => {
    const wrong = structuredClone(breakdown);
    wrong.checkpoints[1]!.after = ['c4'];
    expect(Breakdown.safeParse(wrong).error?.issues[0]?.message).toMatch(/"c4" does not come before "c2"/);
  });

  test('refuses a mistake at a checkpoint that it does not have', () => {
    const wrong = structuredClone(breakdown);
    wrong.mistakes[0]!.root = 'c9';
    expect(Breakdown.safeParse(wrong).error?.issues[0]?.path).toEqual(['mistakes', 0, 'root']);
  });

  test('opens a defence from one checkpoint until another holds', () => {
    const wide = structuredClone(breakdown);
    wide.defences = [{ ...wide.defences[0]!, opens: 'c2', closes: 'c4' }];
    const open = wide.checkpoints.map(({ id }) => defencesOpenAt(wide, id).length);
    expect(open).toEqual([0, 1, 1, 1, 0]);
  });

  test('offers the mistakes and the open defences of a checkpoint as causes, mistakes first', () => {
    expect(causesAt(breakdown, 'c3').map(({ id }) => id)).toEqual(['m3', 'd3']);
  });

  test('knows every fundamental under a checkpoint, through others, in order', () => {
    expect(fundamentalsOf(breakdown, 'c4')).toEqual(['c1', 'c2', 'c3']);
    expect(fundamentalsOf(breakdown, 'c1')).toEqual([]);
  });
});

describe('sides', () => {
  test('are read for a right lead as written and mirrored for a left lead', () => {
    const text = 'The {right} hand takes the near wrist under the {left} arm.';
    expect(readFor(text, 'right')).toBe('The right hand takes the near wrist under the left arm.');
    expect(readFor(text, 'left')).toBe('The left hand takes the near wrist under the right arm.');
    expect(readFor('{Left} foot first.', 'left')).toBe('Right foot first.');
  });

  test('mirrored twice are as they were', () => {
    const words = fc.array(fc.constantFrom('{right}', '{left}', ' near ', 'right', '{', 'x}'));
    fc.assert(
      fc.property(words, (parts) => {
        const text = parts.join('');
        expect(mirror(mirror(text))).toBe(text);
        expect(readFor(mirror(text), 'right')).toBe(readFor(text, 'left'));
      }),
    );
  });
});
