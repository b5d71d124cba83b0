import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { attackFirst, pairByMass } from '.';

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

test('pairing by mass respects who may not work together, while that can be', () => {
  const people = [60, 61, 80, 81].map((massKg, i) => ({ id: `s${i}`, massKg }));
  const apart = (a: string, b: string) => [a, b].sort().join() !== 's0,s1';
  expect(pairByMass(people, apart).every(([a, b]) => apart(a!, b!))).toBe(true);
  fc.assert(
    fc.property(fc.array(mass, { minLength: 6, maxLength: 16 }), (masses) => {
      const room = masses.map((massKg, i) => ({ id: `s${i}`, massKg }));
      // One who may work with nobody but the first two.
      const may = (a: string, b: string) =>
        ![a, b].includes('s5') || [a, b].includes('s0') || [a, b].includes('s1');
      const pairs = pairByMass(room, may);
      expect(pairs.flat()).toHaveLength(room.length);
      if (room.length % 2 === 0) expect(pairs.every(([a, b]) => may(a!, b!))).toBe(true);
    }),
  );
});

test('who attacks first stands first, and a third keeps the order of turns', () => {
  const of = (id: string) => ({ massKg: id.charCodeAt(0), experienceMonths: -id.charCodeAt(0) });
  expect(
    attackFirst(
      [
        ['a', 'b'],
        ['c', 'e', 'd'],
      ],
      'heavier',
      of,
    ),
  ).toEqual([
    ['b', 'a'],
    ['e', 'd', 'c'],
  ]);
  expect(attackFirst([['b', 'a']], 'lighter', of)).toEqual([['a', 'b']]);
  expect(attackFirst([['a', 'b']], 'less experienced', of)).toEqual([['b', 'a']]);
  expect(attackFirst([['b', 'a']], 'as paired', of)).toEqual([['b', 'a']]);
});
