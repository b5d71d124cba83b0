import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { forLogging, isMinor, isYounger, newStudent, openInjuries, Student } from '.';

const somebody = {
  id: 'ada',
  name: 'Ada',
  born: '2008-03-05',
  mainSide: 'right',
  experienceMonths: 3,
  statureCm: 170,
  massKg: 64.5,
  armSpanCm: null,
  neckGirthCm: null,
  chestGirthCm: null,
  hipMobility: null,
  injuries: [],
  archived: false,
};

describe('a student', () => {
  test('is a minor until the eighteenth birthday, and not on it', () => {
    expect(isMinor({ born: '2008-03-05' }, '2026-03-04')).toBe(true);
    expect(isMinor({ born: '2008-03-05' }, '2026-03-05T08:00:00Z')).toBe(false);
    expect(isMinor({ born: null }, '2026-03-05')).toBe(false);
  });

  test('born on the 29th of February comes of age on the first of March', () => {
    expect(isMinor({ born: '2008-02-29' }, '2026-02-28')).toBe(true);
    expect(isMinor({ born: '2008-02-29' }, '2026-03-01')).toBe(false);
  });

  test('has an injury open up to and on its last day', () => {
    const injuries = [{ region: 'knee' as const, side: 'left' as const, until: '2026-03-05', note: '' }];
    expect(openInjuries({ injuries }, '2026-03-05T20:00:00Z')).toHaveLength(1);
    expect(openInjuries({ injuries }, '2026-03-06')).toEqual([]);
  });

  test.each([
    ['no name', { name: '  ' }, 'name'],
    ['a mass in grams', { massKg: 64500 }, 'massKg'],
    ['a stature in metres', { statureCm: 1.7 }, 'statureCm'],
    ['a number that is typed wrong', { armSpanCm: '17o' }, 'armSpanCm'],
    ['a day of birth that is none', { born: '2008-02-31' }, 'born'],
    ['half a month of experience', { experienceMonths: 0.5 }, 'experienceMonths'],
    ['a side that is none', { mainSide: 'both' }, 'mainSide'],
  ])('with %s is refused at that field', (_, fields, field) => {
    expect(Student.safeParse({ ...somebody, ...fields }).error?.issues[0]?.path).toEqual([field]);
  });

  test('needs nothing but a name to start: body facts may be unknown', () => {
    expect(Student.parse({ ...somebody, statureCm: null, massKg: null, born: null }).name).toBe('Ada');
  });
});

describe('a person as somebody sees them who only logs', () => {
  test('has no guardian, and a day of birth that says to every rule today what the true one says, and never less', () => {
    fc.assert(
      fc.property(
        fc.date({ min: new Date('1940-01-01'), max: new Date('2024-12-31'), noInvalidDate: true }),
        fc.date({ min: new Date('2025-01-01'), max: new Date('2035-12-31'), noInvalidDate: true }),
        fc.integer({ min: 1, max: 25 }),
        fc.integer({ min: 0, max: 400 }),
        (birth, now, years, later) => {
          const [born, today] = [birth, now].map((date) => date.toISOString().slice(0, 10)) as [
            string,
            string,
          ];
          const seen = forLogging(
            newStudent({ id: 'a', name: 'A', born, guardian: { name: 'G', contact: '' } }),
            today,
          );
          expect(seen.guardian).toBeNull();
          expect(isYounger(seen, years, today)).toBe(isYounger({ born }, years, today));
          // What a device has kept for a while says young for longer, and never for shorter.
          const then = new Date(now.getTime() + later * 86_400_000).toISOString().slice(0, 10);
          if (isYounger({ born }, years, then)) expect(isYounger(seen, years, then)).toBe(true);
        },
      ),
    );
    expect(forLogging(newStudent({ id: 'a', name: 'A' }), '2026-03-05').born).toBeNull();
  });
});
