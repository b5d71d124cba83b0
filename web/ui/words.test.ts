import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { ago, dayOf, timeOf } from './words';
import { dateOf, daysOf } from './zone';

// Days and times are those of where the coach is, so the instants are made there as well.
const here = (day: number, hour: number, minute = 0) => new Date(2026, 2, day, hour, minute).toISOString();

describe('when something was', () => {
  beforeEach(() => {
    jest.useFakeTimers({ now: new Date(2026, 2, 5, 19, 30) });
  });
  afterEach(() => {
    jest.useRealTimers();
  });

  test.each([
    [here(5, 0), 'today'],
    [here(4, 23, 59), 'yesterday'],
    [here(3, 23, 59), 'Tue 3 Mar'],
    [here(6, 0), 'Fri 6 Mar'],
  ])('%s is said as %s', (instant, words) => {
    expect(dayOf(instant, 'en-GB')).toBe(words);
  });

  test('is written as the reader writes days', () => {
    expect(dayOf(here(3, 12), 'en-US')).toBe('Tue, Mar 3');
    expect(dayOf(here(3, 12), 'de')).toBe('Di., 3. März');
  });

  test('is a date where the academy is, on whatever device; a date alone is the same everywhere', () => {
    jest.setSystemTime(new Date('2026-03-05T20:00:00Z'));
    const late = '2026-03-05T10:30:00Z';
    for (const [zone, day, time, date] of [
      ['Pacific/Auckland', 'yesterday', '23:30', '2026-03-06'],
      ['America/New_York', 'today', '05:30', '2026-03-05'],
      ['Pacific/Kiritimati', 'today', '00:30', '2026-03-06'],
    ] as const) {
      daysOf(zone);
      expect([dayOf(late, 'en-GB'), timeOf(late, 'en-GB'), dateOf(Date.now())]).toEqual([day, time, date]);
      expect(dayOf('2026-03-01', 'en-GB')).toBe('Sun 1 Mar');
      expect(dayOf('2025-03-01', 'en-GB')).toBe('Sat, 1 Mar 2025');
      expect(dayOf(date, 'en-GB')).toBe('today');
    }
    daysOf(Intl.DateTimeFormat().resolvedOptions().timeZone);
  });

  test('is told to the minute, or how long ago', () => {
    expect(timeOf(here(5, 7, 5), 'en-GB')).toBe('07:05');
    expect(timeOf(here(5, 19, 5), 'en-US')).toBe('07:05 PM');
    expect(ago(here(5, 19, 29))).toBe('1 minute ago');
    expect(ago(here(4, 18))).toBe('1 day ago');
  });
});
