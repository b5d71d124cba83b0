import { describe, expect, test } from '@jest/globals';
import { teaches } from '../prescription';
import { aRep, factId, plainBreakdown } from '../test';
import { type WatchedStudent, watchNext } from '.';

const breakdown = plainBreakdown(5);
const watched = (student: string, fields: Partial<WatchedStudent> = {}): WatchedStudent => ({
  student,
  checkpoint: 'c3',
  startAt: null,
  reached: 20,
  openness: 0.05,
  ...fields,
});
const reps = (n: number, stop?: string) =>
  Array.from({ length: n }, (_, i) => aRep({ id: factId(100 + i), ...(stop && { stop }) }));

describe('whom to watch next', () => {
  test('is the one whose next rep narrows most: more open, or seen less', () => {
    const of = (...all: WatchedStudent[]) => watchNext(breakdown, all, ['ada', 'ben'], () => [])?.student;
    expect(of(watched('ada'), watched('ben', { openness: 0.06 }))).toBe('ben');
    expect(of(watched('ada', { reached: 5 }), watched('ben', { openness: 0.06 }))).toBe('ada');
  });

  test('wanders on with the reps that get to the checkpoint, and with no other', () => {
    const all = [watched('ada', { reached: 19 }), watched('ben')];
    const after = (own: ReturnType<typeof reps>) =>
      watchNext(breakdown, all, ['ada', 'ben'], (student) => (student === 'ada' ? own : []))?.student;
    expect(after([])).toBe('ada');
    expect(after(reps(2))).toBe('ben');
    expect(after(reps(9, 'c1'))).toBe('ada');
  });

  test('is somebody whose turn it is, and nobody where nothing is open', () => {
    expect(watchNext(breakdown, [watched('ada'), watched('ben')], ['ben'], () => [])?.student).toBe('ben');
    expect(watchNext(breakdown, [watched('ada', { openness: 0 })], ['ada'], () => [])).toBeNull();
    expect(watchNext(breakdown, [], ['ada'], () => [])).toBeNull();
  });

  test('goes by the square root of the reps, as an interval does', () => {
    const { student: _, ...one } = watched('ada', { openness: 1, reached: 98 });
    // √(99/100): what is left of the width after one more of a hundred.
    expect(teaches(one)).toBeCloseTo(1 - Math.sqrt(0.99), 12);
    expect(teaches(one, 1)).toBeLessThan(teaches(one));
  });
});
