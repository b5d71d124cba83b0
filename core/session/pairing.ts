import matching from 'edmonds-blossom-fixed';
import type { Id } from '../breakdown';
import { isMinor, type Student } from '../people';

interface Weighed {
  id: Id;
  massKg: number | null;
}

/** Pairs, and who could not be put into one. */
export interface ProposedPairs {
  pairs: Id[][];
  alone: Id[];
}

/** How unlike two people are where one of them was never weighed. */
const unknownCost = 0.5;
/** More than any difference of mass that people have, so that every weight is positive; the algorithm wants whole numbers. */
const mostUnlike = 4;
const grain = 10_000;
/** How many ways are tried of finding a third place where the first one will not do. */
const mostTries = 3000;

/** How unlike two people are in mass: |ln ratio|. */
const unlike = (a: Weighed, b: Weighed): number =>
  a.massKg && b.massKg ? Math.abs(Math.log(a.massKg / b.massKg)) : unknownCost;

/** The most pairs that can be made of some people, and of these the nearest in mass: a maximum-weight matching (Edmonds 1965). */
function pairsOf(people: readonly Weighed[], may: (a: Id, b: Id) => boolean): [Weighed, Weighed][] {
  const edges = people.flatMap((a, i) =>
    people.slice(i + 1).flatMap((b, j): [number, number, number][] =>
      // Among equals, people next to each other.
      may(a.id, b.id) ? [[i, i + 1 + j, Math.round(grain * (mostUnlike - unlike(a, b))) - j]] : [],
    ),
  );
  return matching(edges, true).flatMap((mate: number, i: number): [Weighed, Weighed][] =>
    mate > i ? [[people[i]!, people[mate]!]] : [],
  );
}

/**
 * Pairs people by nearest mass, and only those who may work together; an odd one joins a pair as a rotating third, if
 * they may work with both. Anybody who fits no pair is left alone: a refused pair is never made. The same people give
 * the same pairs, in order of mass.
 */
export function pairByMass(
  people: readonly Weighed[],
  may: (a: Id, b: Id) => boolean = () => true,
): ProposedPairs {
  const order = [...people].sort(
    (a, b) => (a.massKg ?? Infinity) - (b.massKg ?? Infinity) || (a.id < b.id ? -1 : 1),
  );
  const groups: Weighed[][] = pairsOf(order, may);
  const left = order.filter((one) => !groups.flat().includes(one));
  const fits = (third: Weighed, group: readonly Weighed[]) =>
    group.length === 2 && group.every(({ id }) => may(third.id, id));
  const cost = (third: Weighed, group: readonly Weighed[]) =>
    group.reduce((sum, one) => sum + unlike(third, one), 0);
  const alone: Weighed[] = [];
  for (const one of left) {
    const open = groups.filter((group) => fits(one, group));
    const nearest = open.reduce<Weighed[] | null>(
      (best, group) => (best && cost(one, best) <= cost(one, group) ? best : group),
      null,
    );
    if (nearest) nearest.push(one);
    else alone.push(one);
  }
  const whole = alone.length === 1 && order.length % 2 === 1 ? withAThird(order, may) : null;
  const rank = (one: Weighed) => order.indexOf(one);
  const made = (whole ?? groups).map((group) => [...group].sort((a, b) => rank(a) - rank(b)));
  return {
    pairs: made.sort((a, b) => rank(a[0]!) - rank(b[0]!)).map((group) => group.map(({ id }) => id)),
    alone: whole ? [] : alone.map(({ id }) => id),
  };
}

/** Everybody of an odd room in pairs but for one three, where the odd one of the first pairing fits nowhere; or null. */
function withAThird(order: readonly Weighed[], may: (a: Id, b: Id) => boolean): Weighed[][] | null {
  let tries = 0;
  for (const [i, a] of order.entries())
    for (const [j, b] of order.entries())
      for (const c of order.slice(j + 1)) {
        if (j <= i || !may(a.id, b.id) || !may(b.id, c.id) || !may(a.id, c.id)) continue;
        const rest = order.filter((one) => one !== a && one !== b && one !== c);
        const pairs = pairsOf(rest, may);
        if (pairs.length * 2 === rest.length) return [[a, b, c], ...pairs];
        if (++tries > mostTries) return null;
      }
  return null;
}

/** From this ratio of masses on a minor is not put with another by the arithmetic. Ours, from no source. */
const mostForAMinor = 1.5;

type Pairable = Pick<Student, 'massKg' | 'born'>;

/**
 * May the arithmetic put two together, or is that for a coach to decide by hand? Somebody whose mass nobody knows goes with
 * their like, a minor with a minor of about their mass.
 */
export function pairable(a: Pairable | undefined, b: Pairable | undefined, today: string): boolean {
  if (!a || !b || (a.massKg === null) !== (b.massKg === null)) return false;
  const minors = [a, b].filter((one) => isMinor(one, today)).length;
  if (minors === 0 || a.massKg === null || b.massKg === null) return minors !== 1;
  return minors === 2 && Math.max(a.massKg / b.massKg, b.massKg / a.massKg) < mostForAMinor;
}

/** Why somebody was left to be paired by hand, in words. */
export function byHandWords(one: Pairable & Pick<Student, 'name'>, today: string): string {
  if (isMinor(one, today)) return `${one.name} is a minor, and no suitable partner is free`;
  if (one.massKg === null) return `${one.name}’s mass is unknown`;
  return `no suitable partner for ${one.name} is free`;
}

/** Which of a pair attacks first. */
export type First = 'as paired' | 'lighter' | 'heavier' | 'less experienced';

/** Pairs with the one in front who attacks first; the others keep their order. */
export function attackFirst(
  pairs: readonly (readonly Id[])[],
  first: First,
  of: (id: Id) => { massKg: number | null; experienceMonths: number | null } | undefined,
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
