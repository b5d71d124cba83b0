import { describe, expect, test } from '@jest/globals';
import { leftOf, stopped, toggled } from './clocked';

const round = 300_000;
const start = 1_000_000;

describe('the round clock', () => {
  test('starts, pauses and goes on from where it was', () => {
    const running = toggled(stopped, start, round);
    expect(running).toEqual({ ranMs: 0, since: start });
    const paused = toggled(running, start + 42_000, round);
    expect(paused).toEqual({ ranMs: 42_000, since: null });
    expect(leftOf(paused, start + 99_000, 300)).toBe(258);
    const on = toggled(paused, start + 60_000, round);
    expect(leftOf(on, start + 70_000, 300)).toBe(248);
  });

  test('counts from instants: a tab that slept through the round finds it over', () => {
    const running = toggled(stopped, start, round);
    expect(leftOf(running, start + 299_001, 300)).toBe(1);
    expect(leftOf(running, start + 3_000_000, 300)).toBe(0);
  });

  test('starts anew after a round that is over', () => {
    const over = toggled(toggled(stopped, start, round), start + round + 5, round);
    expect(toggled(over, start + 400_000, round)).toEqual({ ranMs: 0, since: start + 400_000 });
  });

  test('does not run backwards where the device’s clock is set back', () => {
    expect(leftOf(toggled(stopped, start, round), start - 60_000, 300)).toBe(300);
  });
});
