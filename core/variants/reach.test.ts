import { describe, expect, test } from '@jest/globals';
import type { Closing } from '../breakdown';
import { chanceOver, reachOf, type Reached, type Reaching } from '.';

const body = (more: Partial<Reaching & Reached> = {}): Reaching & Reached => ({
  statureCm: 180,
  armSpanCm: null,
  legLengthCm: null,
  neckGirthCm: 40,
  armGirthCm: 40,
  waistGirthCm: 90,
  thighGirthCm: null,
  ...more,
});
const closing = (more: Partial<Closing> = {}): Closing => ({
  limb: 'arm',
  around: 'neck',
  lock: 'hand on the biceps',
  takesCm: 20,
  ...more,
});

describe('reach', () => {
  test('is the limb less the belt and the lock', () => {
    // One circle: its girth. Two equal ones that touch: 2πr + 4r, in closed form.
    expect(reachOf(closing(), body(), body())!.margin).toBeCloseTo(180 * 0.44 - 40 - 20, 6);
    const two = 40 + (4 * 40) / (2 * Math.PI);
    const leg = closing({ limb: 'leg', around: 'neck and arm' });
    expect(reachOf(leg, body(), body())!.margin).toBeCloseTo(180 * 0.491 - two - 20, 6);
    expect(
      reachOf(closing({ limb: 'leg', around: 'waist', takesCm: 0 }), body(), body())!.margin,
    ).toBeCloseTo(180 * 0.491 - 90, 6);
  });

  test('is surer where the limb was measured, and goes by that', () => {
    const guessed = reachOf(closing(), body(), body())!;
    const measured = reachOf(closing(), body({ armSpanCm: 190 }), body())!;
    expect(measured.margin - guessed.margin).toBeCloseTo(10 * 0.44, 6);
    expect(measured.error).toBeLessThan(guessed.error / 2);
    expect(reachOf(closing(), body({ statureCm: null, armSpanCm: 190 }), body())).toEqual(measured);
    const leg = closing({ limb: 'leg' });
    expect(reachOf(leg, body({ legLengthCm: 180 * 0.53 }), body())!.margin).toBeCloseTo(
      reachOf(leg, body(), body())!.margin,
      6,
    );
  });

  test('is not told where a body is not known', () => {
    expect(reachOf(closing(), null, body())).toBeNull();
    expect(reachOf(closing(), body(), null)).toBeNull();
    expect(reachOf(closing(), body({ statureCm: null }), body())).toBeNull();
    expect(reachOf(closing(), body(), body({ neckGirthCm: null }))).toBeNull();
    expect(reachOf(closing({ around: 'neck and arm' }), body(), body({ armGirthCm: null }))).toBeNull();
    expect(reachOf(closing({ around: 'thigh' }), body(), body())).toBeNull();
  });

  test('has a chance that goes with the error', () => {
    expect(chanceOver({ margin: 3, error: 3 }, 0)).toBeCloseTo(0.8413, 3);
    expect(chanceOver({ margin: 3, error: 3 }, 3)).toBeCloseTo(0.5, 6);
    expect(chanceOver({ margin: 1, error: 0 }, 0)).toBe(1);
    expect(chanceOver({ margin: 0, error: 0 }, 0)).toBe(0);
  });
});
