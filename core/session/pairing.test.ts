import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { attackFirst, pairByMass } from '.';

const mass = fc.option(fc.integer({ min: 30, max: 150 }));

test('pairing by mass puts everybody in one pair, two or three together', () => {
  fc.assert(
    fc.property(fc.array(mass, { minLength: 2, maxLength: 30 }), (masses) => {
      const people = masses.map((massKg, i) => ({ id: `s${i}`, massKg }));
      const { pairs, alone } = pairByMass(people);
      expect(alone).toEqual([]);
      expect(pairs.flat().sort()).toEqual(people.map(({ id }) => id).sort());
      expect(pairs.every(({ length }) => length === 2 || length === 3)).toBe(true);
      expect(pairs.filter(({ length }) => length === 3)).toHaveLength(masses.length % 2);
    }),
  );
});

test('pairing by mass keeps neighbours together, and somebody alone alone', () => {
  const people = [60, 95, 62, 90].map((massKg, i) => ({ id: `s${i}`, massKg }));
  expect(pairByMass(people).pairs).toEqual([
    ['s0', 's2'],
    ['s3', 's1'],
  ]);
  expect(pairByMass(people.slice(0, 1))).toEqual({ pairs: [], alone: ['s0'] });
});

/** Whether a room can be put into permitted pairs, and one permitted three where it is odd: tried out, one by one. */
function canBePaired(ids: readonly string[], may: (a: string, b: string) => boolean): boolean {
  const [first, ...rest] = ids;
  if (first === undefined) return true;
  const without = (...gone: string[]) => rest.filter((one) => !gone.includes(one));
  return rest.some(
    (b) =>
      may(first, b) &&
      (canBePaired(without(b), may) ||
        (ids.length % 2 === 1 &&
          rest.some((c) => c !== b && may(first, c) && may(b, c) && canBePaired(without(b, c), may)))),
  );
}

test('never makes a refused pair, and pairs everybody who can be paired', () => {
  fc.assert(
    fc.property(
      fc.array(mass, { minLength: 2, maxLength: 9 }),
      fc.array(fc.boolean(), { minLength: 81, maxLength: 81 }),
      (masses, open) => {
        const room = masses.map((massKg, i) => ({ id: `s${i}`, massKg }));
        const n = (id: string) => Number(id.slice(1));
        const may = (a: string, b: string) => open[Math.min(n(a), n(b)) * 9 + Math.max(n(a), n(b))]!;
        const { pairs, alone } = pairByMass(room, may);
        expect([...pairs.flat(), ...alone].sort()).toEqual(room.map(({ id }) => id).sort());
        for (const group of pairs)
          for (const [i, a] of group.entries())
            for (const b of group.slice(i + 1)) expect(may(a, b)).toBe(true);
        if (
          canBePaired(
            room.map(({ id }) => id),
            may,
          )
        )
          expect(alone).toEqual([]);
      },
    ),
    { numRuns: 400 },
  );
});

test('the first of a pair attacks first, and a third keeps the order of turns', () => {
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
