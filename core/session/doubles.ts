import { byTime, type Rep } from '../rep';

/** Two reps of one student that two coaches logged within these many milliseconds may be one and the same. */
export const doubleWithinMs = 5000;

/**
 * Pairs of reps that look like one rep seen by two coaches: the same student on the same partner and side, by different
 * observers, within a few seconds. The nearest in time are taken together, each rep once; the pairs are in order of time.
 */
export function doublesIn(reps: readonly Rep[]): [Rep, Rep][] {
  const alike = (a: Rep, b: Rep): boolean =>
    a.observer !== b.observer && a.student === b.student && a.partner === b.partner && a.side === b.side;
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
