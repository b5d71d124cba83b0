import type { Id } from '../breakdown';

/** Pairs people by nearest mass, lightest first; those without a known mass come last, and an odd one joins the last pair as a third. */
export function pairByMass(people: readonly { id: Id; massKg: number | null }[]): Id[][] {
  const order = [...people].sort(
    (a, b) => (a.massKg ?? Infinity) - (b.massKg ?? Infinity) || (a.id < b.id ? -1 : 1),
  );
  const pairs: Id[][] = [];
  for (let i = 0; i < order.length; i += 2) pairs.push(order.slice(i, i + 2).map(({ id }) => id));
  if (pairs.length > 1 && pairs.at(-1)!.length === 1) pairs.at(-2)!.push(...pairs.pop()!);
  return pairs;
}
