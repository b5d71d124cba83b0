import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { clockAt, type RoundClock, type Rounds, stoppedClock, toggled } from '.';

const round = 300;
const rounds: Rounds = { roundSeconds: round, restSeconds: 0, rounds: 3 };
const leftOf = (clock: RoundClock, now: number) => clockAt(clock, now, rounds).left;
const start = Date.parse('2026-03-05T18:30:00.000Z');
const at = (seconds: number) => start + seconds * 1000;
const iso = (seconds: number) => new Date(at(seconds)).toISOString();

describe('the round clock', () => {
  test('starts, pauses and goes on from where it was', () => {
    const running = toggled(stoppedClock, at(0), rounds);
    expect(running).toEqual({ round: 1, ranMs: 0, since: iso(0) });
    const paused = toggled(running, at(42), rounds);
    expect(paused).toEqual({ round: 1, ranMs: 42_000, since: null });
    expect(leftOf(paused, at(99))).toBe(258);
    const on = toggled(paused, at(60), rounds);
    expect(leftOf(on, at(70))).toBe(248);
  });

  test('counts from instants: a tab that slept through the round finds it over', () => {
    const running = toggled(stoppedClock, at(0), rounds);
    expect(leftOf(running, at(299) + 1)).toBe(1);
    expect(leftOf(running, at(3000))).toBe(0);
  });

  test('starts the next round after one that is over', () => {
    const over = toggled(toggled(stoppedClock, at(0), rounds), at(round + 1), rounds);
    expect(over).toEqual({ round: 2, ranMs: 0, since: iso(round + 1) });
  });

  test('does not run backwards where the clock is set back', () => {
    expect(leftOf(toggled(stoppedClock, at(0), rounds), at(-60))).toBe(300);
  });

  test('knows its halves', () => {
    const running = toggled(stoppedClock, at(0), rounds);
    expect(clockAt(running, at(149), rounds).half).toBe('first');
    expect(clockAt(running, at(150), rounds).half).toBe('second');
  });

  test('loses no second, however often it is paused', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 20 }), { maxLength: 20 }), (spans) => {
        let [clock, now, ran] = [stoppedClock, 0, 0];
        for (const [i, span] of spans.entries()) {
          clock = toggled(clock, at(now), rounds);
          now += span;
          if (i % 2 === 0) ran += span;
        }
        expect(leftOf(clock, at(now))).toBe(round - ran);
        expect(clock.since !== null).toBe(spans.length % 2 === 1);
        expect(clock.round).toBe(1);
      }),
    );
  });

  test('with a rest the next round starts when the rest is over, and the last one has none', () => {
    const rested: Rounds = { roundSeconds: 300, restSeconds: 60, rounds: 2 };
    const running = toggled(stoppedClock, at(0), rested);
    expect(clockAt(running, at(310), rested)).toMatchObject({ round: 1, left: 0, resting: 50 });
    expect(clockAt(running, at(361), rested)).toMatchObject({
      round: 2,
      left: 299,
      resting: null,
      half: 'first',
    });
    expect(clockAt(running, at(700), rested)).toMatchObject({ round: 2, left: 0, resting: null });
    const paused = toggled(running, at(400), rested);
    expect(paused).toEqual({ round: 2, ranMs: 40_000, since: null });
  });
});
