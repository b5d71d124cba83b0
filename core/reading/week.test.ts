import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { aRep, plainBreakdown } from '../test';
import { fold, tallyWeeks, Weekday, weeksBefore, weeksIn, weekOf } from '.';

describe('weeks', () => {
  test('begin on Monday where the house has said nothing, in UTC', () => {
    expect(weekOf('2026-03-02T00:00:00Z')).toBe('2026-03-02');
    expect(weekOf('2026-03-01T23:59:59Z')).toBe('2026-02-23');
    expect(weekOf('2026-03-02T00:30:00+01:00')).toBe('2026-02-23');
    expect(weeksBefore('2026-03-05T20:00:00Z', 2)).toBe('2026-02-16');
  });

  test('begin on the weekday of the house, and last until it comes again', () => {
    // What a weekday is, the platform's own calendar says.
    const named = new Intl.DateTimeFormat('en', { weekday: 'long', timeZone: 'UTC' });
    const instants = fc.date({
      min: new Date('1950-01-01'),
      max: new Date('2090-01-01'),
      noInvalidDate: true,
    });
    fc.assert(
      fc.property(instants, fc.constantFrom(...Weekday.options), (instant, begins) => {
        const at = instant.toISOString();
        const week = weekOf(at, begins);
        expect(named.format(new Date(week)).toLowerCase()).toBe(begins);
        const days = (instant.getTime() - Date.parse(week)) / 86_400_000;
        expect(days).toBeGreaterThanOrEqual(0);
        expect(days).toBeLessThan(7);
        expect(weeksBefore(week, 3, begins)).toBe(
          weekOf(new Date(instant.getTime() - 21 * 86_400_000).toISOString(), begins),
        );
        expect(weeksIn(week, begins)).toEqual([week]);
      }),
    );
    expect(weeksIn('2026-03-02', 'sunday')).toEqual(['2026-03-01', '2026-03-08']);
  });

  test('a class on Sunday is of the week that it begins, or ends; its weight goes by that', () => {
    const editions = new Map([['test-lock', new Map([[1, plainBreakdown(2)]])]]);
    const reps = ['2026-03-01T18:00:00Z', '2026-03-04T18:00:00Z'].map((at) => aRep({ at }));
    const weightsOf = (weekBegins: Weekday) => {
      const tallies = tallyWeeks(editions, reps, () => null, weekBegins);
      const [cell] = fold(tallies, { asOf: '2026-03-05T20:00:00Z', halfLifeDays: 7, weekBegins });
      return [tallies.length, cell!.checkpoints['c1']!.weightReached];
    };
    expect(weightsOf('monday')).toEqual([2, 1.5]);
    expect(weightsOf('sunday')).toEqual([1, 2]);
  });
});
