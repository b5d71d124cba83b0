import { z } from 'zod';

/** A circle in the plane, in centimetres: a neck, an arm, a waist seen along the limb that closes around it. */
export const Circle = z.object({
  x: z.number(),
  y: z.number(),
  r: z.number().min(0),
});
export type Circle = z.infer<typeof Circle>;

const turn = 2 * Math.PI;
const inTurn = (angle: number): number => ((angle % turn) + turn) % turn;

/** How far a circle reaches in a direction, from the origin. */
const reach = ({ x, y, r }: Circle, angle: number): number => x * Math.cos(angle) + y * Math.sin(angle) + r;

/** The directions in which two circles reach equally far: where a belt around both leaves the one for the other. At most two. */
function ties(one: Circle, other: Circle): number[] {
  const [dx, dy, dr] = [other.x - one.x, other.y - one.y, other.r - one.r];
  const apart = Math.hypot(dx, dy);
  // One lies within the other: it never reaches farther.
  if (apart <= Math.abs(dr)) return [];
  const [towards, off] = [Math.atan2(dy, dx), Math.acos(-dr / apart)];
  return [inTurn(towards + off), inTurn(towards - off)];
}

/** Length of the reach of a circle over a range of directions: the integral of `reach`. */
const along = ({ x, y, r }: Circle, from: number, to: number): number =>
  x * (Math.sin(to) - Math.sin(from)) - y * (Math.cos(to) - Math.cos(from)) + r * (to - from);

/**
 * Length of a taut belt around circles, in the unit of their radii: the perimeter of their convex hull, which is the
 * integral of how far the circles reach in each direction (Cauchy's formula). In each range between two ties one circle
 * reaches farthest, and its part has a closed form. O(n³) in the number of circles. 0 for none.
 */
export function beltLength(circles: readonly Circle[]): number {
  if (circles.length === 0) return 0;
  const cuts = [
    ...new Set([
      0,
      turn,
      ...circles.flatMap((one, i) => circles.slice(i + 1).flatMap((other) => ties(one, other))),
    ]),
  ].sort((a, b) => a - b);
  let length = 0;
  for (let i = 0; i + 1 < cuts.length; i++) {
    const [from, to] = [cuts[i]!, cuts[i + 1]!];
    const middle = (from + to) / 2;
    const farthest = circles.reduce((a, b) => (reach(b, middle) > reach(a, middle) ? b : a));
    length += along(farthest, from, to);
  }
  return length;
}
