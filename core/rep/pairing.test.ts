import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { pairByMass } from '.';

const mass = fc.option(fc.integer({ min: 30, max: 150 }));

test('pairing by mass puts everybody in one pair, two or three together', () => {
  fc.assert(
    fc.property(fc.array(mass, { minLength: 2, maxLength: 30 }), (masses) => {
      const people = masses.map((massKg, i) => ({ id: `s${i}`, massKg }));
      const pairs = pairByMass(people);
      expect(pairs.flat().sort()).toEqual(people.map(({ id }) => id).sort());
      expect(pairs.every(({ length }) => length === 2 || length === 3)).toBe(true);
      expect(pairs.filter(({ length }) => length === 3)).toHaveLength(masses.length % 2);
    }),
  );
});

test('pairing by mass keeps neighbours together, and somebody alone alone', () => {
  const people = [60, 95, 62, 90].map((massKg, i) => ({ id: `s${i}`, massKg }));
  expect(pairByMass(people)).toEqual([
    ['s0', 's2'],
    ['s3', 's1'],
  ]);
  expect(pairByMass(people.slice(0, 1))).toEqual([['s0']]);
});
