import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import check from '../test/check-values.json' with { type: 'json' };
import { beltLength, type Circle } from '.';

/** The perimeter of the hull of many points on the circles: what the closed form must come to. Andrew's monotone chain. */
function numericHull(circles: readonly Circle[], points = 2000): number {
  const all = circles
    .flatMap(({ x, y, r }) =>
      Array.from({ length: points }, (_, i): [number, number] => {
        const angle = (2 * Math.PI * i) / points;
        return [x + r * Math.cos(angle), y + r * Math.sin(angle)];
      }),
    )
    .sort(([ax, ay], [bx, by]) => ax - bx || ay - by);
  const half = (list: readonly [number, number][]) => {
    const hull: [number, number][] = [];
    for (const [px, py] of list) {
      while (hull.length > 1) {
        const [[ax, ay], [bx, by]] = [hull.at(-2)!, hull.at(-1)!];
        if ((bx - ax) * (py - ay) - (by - ay) * (px - ax) > 0) break;
        hull.pop();
      }
      hull.push([px, py]);
    }
    return hull;
  };
  const hull = [...half(all).slice(0, -1), ...half([...all].reverse()).slice(0, -1)];
  return hull.reduce((sum, [x, y], i) => {
    const [nx, ny] = hull[(i + 1) % hull.length]!;
    return sum + Math.hypot(nx - x, ny - y);
  }, 0);
}

describe('a taut belt', () => {
  test('around one circle, two equal ones and three that touch has its closed form', () => {
    expect(beltLength([])).toBe(0);
    expect(beltLength([{ x: 3, y: -2, r: 5 }])).toBeCloseTo(10 * Math.PI, 10);
    expect(
      beltLength([
        { x: 0, y: 0, r: 4 },
        { x: 6, y: 8, r: 4 },
      ]),
    ).toBeCloseTo(8 * Math.PI + 20, 10);
    const touching = [
      { x: 0, y: 0, r: 1 },
      { x: 2, y: 0, r: 1 },
      { x: 1, y: Math.sqrt(3), r: 1 },
    ];
    expect(beltLength(touching)).toBeCloseTo(6 + 2 * Math.PI, 10);
    expect(beltLength([...touching, { x: 1, y: 0.5, r: 0.2 }, touching[0]!])).toBeCloseTo(
      6 + 2 * Math.PI,
      10,
    );
  });

  test.each(check.tautBelt.cases.map(({ circles, perimeter }) => [circles, perimeter] as const))(
    'around %j is as long as the hull that shapely finds',
    (circles, perimeter) => {
      const length = beltLength(circles.map(([x, y, r]) => ({ x: x!, y: y!, r: r! })));
      expect(Math.abs(length - perimeter)).toBeLessThan(0.002);
    },
  );

  test('around any circles is as long as a hull of many points on them', () => {
    const at = fc.double({ min: -50, max: 50, noNaN: true });
    const circle = fc.record({ x: at, y: at, r: fc.double({ min: 0, max: 30, noNaN: true }) });
    fc.assert(
      fc.property(fc.array(circle, { minLength: 1, maxLength: 6 }), (circles) => {
        const [closed, numeric] = [beltLength(circles), numericHull(circles)];
        // A polygon in a circle is shorter by about its sixth part of the square of the step.
        expect(numeric).toBeLessThanOrEqual(closed + 1e-6);
        expect(closed - numeric).toBeLessThan(1e-4 * (1 + closed));
      }),
      { numRuns: 60 },
    );
  });
});
