/** The state of a search: the best point so far, its value, and the number of evaluations. */
export interface Search {
  point: number[];
  value: number;
  asked: number;
}

/**
 * Finds a minimum by the simplex method of Nelder and Mead, The Computer Journal 7 (1965) 308–313, with their usual
 * coefficients. Yields after each step, so that a long search can be watched and left; ends when every edge of the simplex is
 * shorter than `tolerance` and its values differ by less than its square, or after `most` values.
 */
export function* simplex(
  valueOf: (point: readonly number[]) => number,
  start: readonly number[],
  { step = 0.5, tolerance = 1e-3, most = 200 } = {},
): Generator<Search, Search> {
  let asked = 0;
  const ask = (point: number[]) => {
    asked += 1;
    return { point, value: valueOf(point) };
  };
  const corners = [
    ask([...start]),
    ...start.map((_, i) => ask(start.map((x, k) => (k === i ? x + step : x)))),
  ];
  for (;;) {
    corners.sort((a, b) => a.value - b.value);
    const [best, worst] = [corners[0]!, corners.at(-1)!];
    const length = Math.max(
      ...corners.map(({ point }) => Math.max(...point.map((x, i) => Math.abs(x - best.point[i]!)))),
    );
    const found: Search = { ...best, asked };
    if (asked >= most || (length < tolerance && worst.value - best.value < tolerance ** 2)) return found;
    yield found;
    const others = corners.slice(0, -1);
    const middle = start.map((_, i) => others.reduce((sum, { point }) => sum + point[i]!, 0) / others.length);
    const beyond = (by: number) => ask(middle.map((x, i) => x + by * (worst.point[i]! - x)));
    const mirrored = beyond(-1);
    if (mirrored.value < best.value) {
      const farther = beyond(-2);
      corners[corners.length - 1] = farther.value < mirrored.value ? farther : mirrored;
    } else if (mirrored.value < others.at(-1)!.value) corners[corners.length - 1] = mirrored;
    else {
      const nearer = beyond(mirrored.value < worst.value ? -0.5 : 0.5);
      if (nearer.value < Math.min(worst.value, mirrored.value)) corners[corners.length - 1] = nearer;
      else
        for (let i = 1; i < corners.length; i++)
          corners[i] = ask(corners[i]!.point.map((x, k) => (x + best.point[k]!) / 2));
    }
  }
}

/** Runs a search to its end without watching it. */
export function finishedSearch(...search: Parameters<typeof simplex>): Search {
  const steps = simplex(...search);
  for (;;) {
    const { done, value } = steps.next();
    if (done) return value;
  }
}
