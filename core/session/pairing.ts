import type { Id } from '../breakdown';

interface Weighed {
  id: Id;
  massKg: number | null;
}

/** Larger than any difference of mass that people have: a refused pair is made only where there is no other way. */
const refusedCost = 100;
const unknownCost = 0.5;

/** How unlike two people are in mass: |ln ratio|. */
const unlike = (a: Weighed, b: Weighed): number =>
  a.massKg && b.massKg ? Math.abs(Math.log(a.massKg / b.massKg)) : unknownCost;

/**
 * Pairs people by nearest mass, and only those who may work together while that can be; an odd one joins a pair as a
 * rotating third. Starts from the order of mass, where neighbours are nearest, and exchanges people between pairs while
 * that brings them nearer: for a roomful the result is the best or close to it. The same people give the same pairs.
 */
export function pairByMass(people: readonly Weighed[], may: (a: Id, b: Id) => boolean = () => true): Id[][] {
  const order = [...people].sort(
    (a, b) => (a.massKg ?? Infinity) - (b.massKg ?? Infinity) || (a.id < b.id ? -1 : 1),
  );
  const pairs: Weighed[][] = [];
  for (let i = 0; i < order.length; i += 2) pairs.push(order.slice(i, i + 2));
  if (pairs.length > 1 && pairs.at(-1)!.length === 1) pairs.at(-2)!.push(...pairs.pop()!);

  const cost = (group: readonly Weighed[]): number => {
    let sum = 0;
    for (let i = 0; i < group.length; i++)
      for (let j = i + 1; j < group.length; j++)
        sum += unlike(group[i]!, group[j]!) + (may(group[i]!.id, group[j]!.id) ? 0 : refusedCost);
    return sum;
  };
  const swapped = (a: Weighed[], b: Weighed[], i: number, j: number): [Weighed[], Weighed[]] => [
    a.map((one, n) => (n === i ? b[j]! : one)),
    b.map((one, n) => (n === j ? a[i]! : one)),
  ];
  for (let better = true; better;) {
    better = false;
    for (let x = 0; x < pairs.length; x++)
      for (let y = x + 1; y < pairs.length; y++)
        for (let i = 0; i < pairs[x]!.length; i++)
          for (let j = 0; j < pairs[y]!.length; j++) {
            const [a, b] = swapped(pairs[x]!, pairs[y]!, i, j);
            if (cost(a) + cost(b) > cost(pairs[x]!) + cost(pairs[y]!) - 1e-9) continue;
            [pairs[x], pairs[y]] = [a, b];
            better = true;
          }
  }
  return pairs.map((pair) => pair.map(({ id }) => id));
}

/** Who attacks first in every pair. */
export type First = 'as paired' | 'lighter' | 'heavier' | 'less experienced';

/** Pairs with the one in front who attacks first; the others keep their order. */
export function attackFirst(
  pairs: readonly (readonly Id[])[],
  first: First,
  of: (id: Id) => { massKg: number | null; experienceMonths: number } | undefined,
): Id[][] {
  const rank = (id: Id): number => {
    const person = of(id);
    if (first === 'less experienced') return person?.experienceMonths ?? Infinity;
    const mass = person?.massKg ?? null;
    return mass === null ? Infinity : first === 'lighter' ? mass : -mass;
  };
  return pairs.map((pair) => {
    if (first === 'as paired') return [...pair];
    const lead = pair.reduce((a, b) => (rank(b) < rank(a) ? b : a));
    const at = pair.indexOf(lead);
    return [...pair.slice(at), ...pair.slice(0, at)];
  });
}
