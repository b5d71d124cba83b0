import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { halfOf, leftOf, stoppedClock, toggled } from '.';

const round = 300;
const start = Date.parse('2026-03-05T18:30:00.000Z');
const at = (seconds: number) => start + seconds * 1000;
const iso = (seconds: number) => new Date(at(seconds)).toISOString();

describe('the round clock', () => {
  test('starts, pauses and goes on from where it was', () => {
    const running = toggled(stoppedClock, at(0), round);
    expect(running).toEqual({ round: 1, ranMs: 0, since: iso(0) });
    const paused = toggled(running, at(42), round);
    expect(paused).toEqual({ round: 1, ranMs: 42_000, since: null });
    expect(leftOf(paused, at(99), round)).toBe(258);
    const on = toggled(paused, at(60), round);
    expect(leftOf(on, at(70), round)).toBe(248);
  });

  test('counts from instants: a tab that slept through the round finds it over', () => {
    const running = toggled(stoppedClock, at(0), round);
    expect(leftOf(running, at(299) + 1, round)).toBe(1);
    expect(leftOf(running, at(3000), round)).toBe(0);
  });

  test('starts the next round after one that is over', () => {
    const over = toggled(toggled(stoppedClock, at(0), round), at(round + 1), round);
    expect(over).toEqual({ round: 2, ranMs: 0, since: iso(round + 1) });
  });

  test('does not run backwards where the clock is set back', () => {
    expect(leftOf(toggled(stoppedClock, at(0), round), at(-60), round)).toBe(300);
  });

  test('knows its halves', () => {
    const running = toggled(stoppedClock, at(0), round);
    expect(halfOf(running, at(149), round)).toBe('first');
    expect(halfOf(running, at(150), round)).toBe('second');
  });

  test('loses no second, however often it is paused', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 20 }), { maxLength: 20 }), (spans) => {
        let [clock, now, ran] = [stoppedClock, 0, 0];
        for (const [i, span] of spans.entries()) {
          clock = toggled(clock, at(now), round);
          now += span;
          if (i % 2 === 0) ran += span;
        }
        expect(leftOf(clock, at(now), round)).toBe(round - ran);
        expect(clock.since !== null).toBe(spans.length % 2 === 1);
        expect(clock.round).toBe(1);
      }),
    );
  });
});
