import { describe, expect, test } from '@jest/globals';
import { everything } from '@ulkret/core/reading';
import { againstOf } from './against';
import type { Settings } from './settings';

const settings = (against: string, asOf?: string) =>
  ({
    reads: { method: 'full', slice: everything, period: { weeks: 26, halfLife: 28, ...(asOf && { asOf }) } },
    search: new URLSearchParams(against ? { against } : {}),
  }) as unknown as Settings;

describe('two readings to be laid over each other', () => {
  test('are none where the address asks for none, or for what there is not', () => {
    for (const text of ['', 'moons', 'rungs-1-4', 'before-99']) expect(againstOf(settings(text))).toBeNull();
  });

  test('differ in the side alone', () => {
    const { first, second, then } = againstOf(settings('sides'))!;
    expect([first.slice.side, second.slice.side, then]).toEqual(['right', 'left', 'on the left']);
    expect(first.period).toEqual(second.period);
  });

  test('differ in the rung alone', () => {
    const { first, second } = againstOf(settings('rungs-2-3'))!;
    expect([first.slice.rung, second.slice.rung]).toEqual([2, 3]);
  });

  test('before and after share no week, and leave none out', () => {
    const { first, second } = againstOf(settings('before-3', '2026-03-05T12:00:00.000Z'))!;
    // The last three weeks are those of 16 and 23 February and 2 March; before ends the second before.
    expect(first.period.asOf).toBe('2026-02-15T23:59:59.999Z');
    expect(second.period).toMatchObject({ weeks: 3, asOf: '2026-03-05T12:00:00.000Z' });
  });
});
