import { describe, expect, test } from '@jest/globals';
import { lostAt, plainReading } from '@ulkret/core/reading';
import { aRep, plainBreakdown, questionOf } from '../../core/test';
import { frayPath, jointsOf, lyingRope, outlinePath, segmentPath } from './geometry';

const breakdown = plainBreakdown(5);
const reps = [
  ...Array.from({ length: 6 }, () => aRep({ stop: 'c1', cause: 'm1' })),
  ...Array.from({ length: 3 }, () => aRep({ stop: 'c1', cause: 'd1' })),
  ...Array.from({ length: 3 }, () => aRep({ stop: 'c1' })),
  ...Array.from({ length: 4 }, () => aRep({ stop: 'c4', cause: 'd4' })),
  ...Array.from({ length: 9 }, () => aRep()),
];
const reading = plainReading(questionOf(breakdown, reps)).squad;
const joints = jointsOf(reading.checkpoints);

describe('the strand of a reading', () => {
  test('loses at each knot just what frays off there', () => {
    for (const { arrives, goesOn, frays } of joints)
      expect(goesOn + frays.reduce((sum, { share }) => sum + share, 0)).toBeCloseTo(arrives, 10);
  });

  test('goes on below a knot as wide as it arrives at the next, and ends as wide as the finish rate', () => {
    joints.forEach(({ goesOn }, i) =>
      expect(goesOn).toBeCloseTo(joints[i + 1]?.arrives ?? reading.finishRate.value, 10),
    );
  });

  test('frays to the left by mistakes and to the right by defences and the unknown, in proportion to the stops', () => {
    const [mistake, defence, unknown] = joints[0]!.frays;
    expect([mistake!.side, defence!.side, unknown!.side]).toEqual(['left', 'right', 'right']);
    expect(mistake!.share / defence!.share).toBeCloseTo(2, 10);
    expect(unknown!.kind).toBe('unknown');
  });

  test('frays as unknown where the leak is only a prior and nobody has stopped there', () => {
    expect(joints[1]!.frays.map(({ kind }) => kind)).toEqual(['unknown']);
  });
});

/** The points that a path names, in order: a curve's controls and its end, a line's end. */
const pointsOf = (path: string): [number, number][] =>
  [...path.matchAll(/(-?[\d.e-]+) (-?[\d.e-]+)/g)].map(([, x, y]) => [Number(x), Number(y)]);

describe('the drawing of the rope', () => {
  const full = 80;
  const at = (place: number) => 30 + 60 * place;

  test('is as wide below a knot as what goes on, and leaves a knot between the frays', () => {
    const [joint] = joints;
    const half = (joint!.arrives * full) / 2;
    const path = segmentPath(-half + 5, half - 9, at(0), at(1), joint!.goesOn * full);
    const points = pointsOf(path);
    const top = points.filter(([, y]) => y === at(0)).map(([x]) => x);
    const bottom = points.filter(([, y]) => y === at(1)).map(([x]) => x);
    expect([Math.min(...top), Math.max(...top)]).toEqual([-half + 5, half - 9]);
    expect(Math.max(...bottom) - Math.min(...bottom)).toBeCloseTo(joint!.goesOn * full, 10);
    expect(path.endsWith('Z')).toBe(true);
  });

  test.each([
    ['to the right', 20, 32, 24],
    ['to the left', -20, -32, -24],
  ])(
    'frays %s from its edge, at the width that is lost, to a loose end further out and further down',
    (_, inner, outer, reach) => {
      const points = pointsOf(frayPath(inner, outer, 100, reach, 18));
      const [first] = points;
      const last = points.at(-1)!;
      expect([first, last]).toEqual([
        [inner, 100],
        [outer, 100],
      ]);
      const tip = outer + reach;
      const ends = points.filter(([x]) => x === tip);
      expect(ends).toHaveLength(2);
      for (const [, y] of ends) expect(y).toBeGreaterThan(100);
      expect(Math.abs(tip)).toBeGreaterThan(Math.abs(outer));
    },
  );

  test('as an outline has both edges, each the mirror of the other', () => {
    const arrives = joints.map((joint) => joint.arrives);
    const path = outlinePath(arrives, reading.finishRate.value, full, at, 20);
    const [left, right] = path.split(' M ').map((edge) => pointsOf(edge.replace('M ', '')));
    expect(left!.map(([x, y]) => [-x, y].map((one) => one + 0))).toEqual(right!.map(([x, y]) => [x, y]));
    const ends = right!.filter(([, y]) => y === at(arrives.length - 1) + 20);
    expect(ends.at(-1)![0]).toBeCloseTo((reading.finishRate.value * full) / 2, 10);
    arrives.forEach((share, place) => {
      const widths = right!.filter(([, y]) => y === at(place)).map(([x]) => x);
      expect(Math.max(...widths)).toBeCloseTo((share * full) / 2, 10);
    });
  });
});

describe('a rope that lies', () => {
  const lying = reading.checkpoints.map((at) => ({ checkpoint: at.checkpoint, lost: lostAt(at) }));

  test('loses what the standing one does, by kind', () => {
    lying.forEach(({ lost }, i) => {
      const of = (kind: string) =>
        joints[i]!.frays.filter((fray) => fray.kind === kind).reduce((sum, { share }) => sum + share, 0);
      for (const kind of ['mistake', 'defence', 'unknown'] as const)
        expect(lost[kind]).toBeCloseTo(of(kind), 10);
    });
  });

  test('is as wide at its end as the finish rate, and frays at every knot that loses', () => {
    const { rope, frays } = lyingRope(lying, 10, 40);
    const ends = [...rope.matchAll(/L 50 (-?[\d.]+)/g)].map(([, y]) => Number(y));
    expect(ends[1]! - ends[0]!).toBeCloseTo(40 * reading.finishRate.value, 6);
    expect(
      frays
        .filter(({ checkpoint }) => checkpoint === 'c1')
        .map(({ kind }) => kind)
        .sort(),
    ).toEqual(['defence', 'mistake', 'unknown']);
  });
});
