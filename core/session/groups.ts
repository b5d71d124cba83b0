import { z } from 'zod';
import { Id } from '../breakdown';
import { type Pair, pairKey } from './turn';

/** The people of one pair, in the order in which they attack; a third waits for their turn. */
export const Members = z.array(Id).min(1).max(3);

/**
 * One change of who is here and who works with whom. Each says what one coach changed and nothing else, so that the changes
 * of two coaches merge: none carries a list that the other has changed since.
 */
export const groupChanges = [
  /** They work together from now on; each leaves their partner of before. */
  z.object({ is: z.literal('together'), pair: Members }),
  /** They stop working together, and wait for a partner. */
  z.object({ is: z.literal('apart'), pair: Members }),
  /** Somebody is here. */
  z.object({ is: z.literal('came'), about: Id }),
  /** Somebody went home. */
  z.object({ is: z.literal('went home'), about: Id }),
  /** The coach walks to the first pair just before the second. */
  z.object({ is: z.literal('order'), pairs: z.array(Members).length(2) }),
] as const;

export type GroupChange = z.infer<(typeof groupChanges)[number]>;

/** Who works with whom, in the order in which the coach walks, and who is here without a partner. */
export interface Groups {
  readonly pairs: readonly Pair[];
  readonly waiting: readonly Id[];
}

/** The groups after one change. A change that names a pair which is gone changes nothing. */
export function regroup(groups: Groups, change: GroupChange): Groups {
  switch (change.is) {
    case 'together':
      return together(groups, change.pair);
    case 'apart': {
      const key = pairKey(change.pair);
      const split = groups.pairs.find((pair) => pairKey(pair) === key);
      return split
        ? {
            pairs: groups.pairs.filter((pair) => pair !== split),
            waiting: [...groups.waiting, ...split],
          }
        : groups;
    }
    case 'came':
      return isHere(groups, change.about)
        ? groups
        : { ...groups, waiting: [...groups.waiting, change.about] };
    case 'went home': {
      const { pairs, left } = without(groups.pairs, [change.about]);
      const waiting = groups.waiting.filter((id) => id !== change.about);
      return { pairs, waiting: [...waiting, ...left] };
    }
    case 'order': {
      const [first, second] = change.pairs.map(pairKey);
      const moved = groups.pairs.find((pair) => pairKey(pair) === first);
      const rest = groups.pairs.filter((pair) => pair !== moved);
      const at = rest.findIndex((pair) => pairKey(pair) === second);
      return moved && at >= 0 ? { ...groups, pairs: rest.toSpliced(at, 0, moved) } : groups;
    }
  }
}

/** Is somebody in the class? */
export const isHere = ({ pairs, waiting }: Groups, id: Id): boolean =>
  waiting.includes(id) || pairs.some((pair) => pair.includes(id));

/** Puts people together at the place of the first pair that one of them leaves, or at the end. */
function together({ pairs: before, waiting }: Groups, pair: Pair): Groups {
  const at = before.findIndex((one) => one.some((id) => pair.includes(id)));
  const ahead = at < 0 ? [] : before.slice(0, at);
  const { pairs: behind, left } = without(at < 0 ? before : before.slice(at), pair);
  return {
    pairs: at < 0 ? [...behind, [...pair]] : [...ahead, [...pair], ...behind],
    waiting: [...waiting.filter((id) => !pair.includes(id)), ...left],
  };
}

/** Pairs without some people, and who is left behind by their partner. Somebody who worked alone from the start goes on. */
function without(pairs: readonly Pair[], ids: readonly Id[]): { pairs: Pair[]; left: Id[] } {
  const after = pairs.map((pair) => ({ pair: pair.filter((id) => !ids.includes(id)), was: pair.length }));
  return {
    pairs: after
      .filter(({ pair, was }) => pair.length > 1 || (pair.length === 1 && was === 1))
      .map((one) => one.pair),
    left: after.flatMap(({ pair, was }) => (pair.length === 1 && was > 1 ? pair : [])),
  };
}

/**
 * New partners for everybody: the first person keeps their place and all others move on by one (the circle method of Berger
 * tables). Somebody who works alone goes on alone; where there is a third, another is the third.
 */
export function rotated(pairs: readonly Pair[]): Pair[] {
  const groups = pairs.filter(({ length }) => length > 1);
  const thirds = groups.flatMap((pair) => pair.slice(2));
  const [first, ...others] = [
    ...groups.map((pair) => pair[0]!),
    ...thirds,
    ...groups.map((pair) => pair[1]!).toReversed(),
  ];
  if (first === undefined) return pairs.map((pair) => [...pair]);
  const circle = [first, ...others.slice(-1), ...others.slice(0, -1)];
  const spare = circle.slice(groups.length, circle.length - groups.length);
  let at = 0;
  return pairs.map((pair) => {
    if (pair.length === 1) return [...pair];
    const two = [circle[at]!, circle[circle.length - 1 - at]!];
    at++;
    return [...two, ...spare.splice(0, pair.length - 2)];
  });
}
