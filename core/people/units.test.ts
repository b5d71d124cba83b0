import { describe, expect, test } from '@jest/globals';
import { entered, measuredWords, stored, unitOf } from './units';

describe('measures of people', () => {
  test('are read in the units of the academy', () => {
    expect(measuredWords('kg and cm', 'mass', 72.5, 'en')).toBe('72.5 kg');
    expect(measuredWords('kg and cm', 'length', 178, 'en')).toBe('178 cm');
    expect(measuredWords('kg and cm', 'mass', 72.5, 'de')).toBe('72,5 kg');
    expect(measuredWords('lb and ft', 'mass', 72.5, 'en')).toBe('160 lb');
    expect(measuredWords('lb and ft', 'length', 178, 'en')).toBe('5 ft 10 in');
    expect(measuredWords('lb and ft', 'length', 182.9, 'en')).toBe('6 ft 0 in');
    expect(measuredWords('lb and ft', 'length', 38, 'en')).toBe('15 in');
  });

  test('are what they were after they were entered again', () => {
    for (const units of ['kg and cm', 'lb and ft'] as const)
      for (const what of ['mass', 'length'] as const)
        for (const value of [40, 61.2, 75, 178, 203.4]) {
          const once = stored(units, what, entered(units, what, value));
          expect(Math.abs(once - value)).toBeLessThan(0.13);
          expect(entered(units, what, once)).toBe(entered(units, what, value));
        }
  });

  test('are entered in pounds and inches, kilograms and centimetres', () => {
    expect([unitOf('lb and ft', 'mass'), unitOf('lb and ft', 'length')]).toEqual(['lb', 'in']);
    expect([unitOf('kg and cm', 'mass'), unitOf('kg and cm', 'length')]).toEqual(['kg', 'cm']);
    expect(stored('lb and ft', 'mass', 160)).toBeCloseTo(72.575, 3);
  });
});
