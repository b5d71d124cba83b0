import { describe, expect, test } from '@jest/globals';
import { Clock } from './clock';

const day = 86_400_000;

function at(start: number) {
  let device = start;
  const kept = new Map<string, string>();
  const store = {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => void kept.set(key, value),
  };
  const open = () => new Clock(() => device, store);
  return { clock: open(), open, pass: (ms: number) => (device += ms) };
}

describe('the clock', () => {
  test('is the device’s until the server is heard, then the server’s', () => {
    const { clock, pass } = at(1_000_000);
    expect([clock.now(), clock.heard]).toEqual([1_000_000, false]);
    clock.hear(1_000_000 + day + 50, 1_000_000, 1_000_100);
    expect([clock.now(), clock.heard]).toEqual([1_000_000 + day, true]);
    pass(5000);
    expect(clock.now()).toBe(1_005_000 + day);
  });

  test('keeps what it heard for the next opening, and knows that it has to hear again', () => {
    const { clock, open } = at(0);
    clock.hear(day, 0, 0);
    const next = open();
    expect([next.offsetMs, next.heard]).toEqual([day, false]);
  });

  test('does not follow the network: a slow answer or a small difference changes nothing', () => {
    const { clock } = at(0);
    clock.hear(day, 0, 20);
    const before = clock.offsetMs;
    clock.hear(day + 300, 0, 200);
    clock.hear(2 * day, 0, 20_000);
    clock.hear(Number.NaN, 0, 10);
    expect(clock.offsetMs).toBe(before);
  });

  test('stamps in the order of the taps, even when the device’s clock is set back between them', () => {
    const { clock, pass } = at(day);
    const stamps = [clock.stamp(), clock.stamp()];
    pass(-3_600_000);
    stamps.push(clock.stamp());
    expect([...stamps].sort()).toEqual(stamps);
    expect(new Set(stamps).size).toBe(3);
  });
});
