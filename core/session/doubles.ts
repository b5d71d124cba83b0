import { byTime, type Rep } from '../rep';

/** Two reps of one student from two devices within this many milliseconds may be one and the same. */
export const doubleWithinMs = 5000;

/** Were two reps logged on two devices, or, if a device is unknown, by two coaches? */
const fromTwo = (a: Rep, b: Rep): boolean =>
  a.device !== undefined && b.device !== undefined ? a.device !== b.device : a.observer !== b.observer;

/**
 * Pairs of reps that look like one rep seen twice: the same student on the same partner and side, from two devices, within a
 * few seconds. The nearest in time are taken together, each rep once; the pairs are in order of time.
 */
export function doublesIn(reps: readonly Rep[]): [Rep, Rep][] {
  const alike = (a: Rep, b: Rep): boolean =>
    fromTwo(a, b) && a.student === b.student && a.partner === b.partner && a.side === b.side;
  const sorted = [...reps].sort(byTime);
  const close = sorted.flatMap((a, i) => {
    const found: { pair: [Rep, Rep]; apart: number }[] = [];
    for (const b of sorted.slice(i + 1)) {
      const apart = Date.parse(b.at) - Date.parse(a.at);
      if (apart > doubleWithinMs) break;
      if (alike(a, b)) found.push({ pair: [a, b], apart });
    }
    return found;
  });
  const taken = new Set<string>();
  return close
    .sort((x, y) => x.apart - y.apart)
    .flatMap(({ pair }) => {
      if (pair.some(({ id }) => taken.has(id))) return [];
      for (const { id } of pair) taken.add(id);
      return [pair];
    })
    .sort(([a], [b]) => byTime(a, b));
}

/**
 * Reps without the later one of each two that look like one: until a coach has looked at them they count as one towards the turn.
 */
export function likelyOnce(reps: readonly Rep[], settled: ReadonlySet<string>): readonly Rep[] {
  const makers = new Set(reps.map(({ device, observer }) => device ?? observer));
  // Nearly always one device logs a pair.
  if (makers.size < 2) return reps;
  const second = new Set(
    doublesIn(reps).flatMap((two) => (two.some(({ id }) => settled.has(id)) ? [] : [two[1].id])),
  );
  return second.size === 0 ? reps : reps.filter(({ id }) => !second.has(id));
}
