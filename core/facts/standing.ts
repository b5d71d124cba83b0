import { byTime, type Rep } from '../rep';
import type { CauseTag } from './cause-tag';
import type { FactsByList } from './registry';
import type { Void } from './void';

/** What the standing reps depend on: the reps, their voids, and their cause tags. */
export type RepFacts = { readonly [K in 'reps' | 'voids' | 'tags']: readonly FactsByList[K][number][] };

/** Facts, each once, in the order in which they were first met. */
const union = <T extends { id: string }>(...lists: (readonly T[])[]): T[] => {
  const byId = new Map<string, T>();
  for (const list of lists) for (const fact of list) if (!byId.has(fact.id)) byId.set(fact.id, fact);
  return [...byId.values()];
};

/** The union of two sets of facts: a fact known to both counts once. Order of the arguments does not matter to `standing`. */
export const mergeFacts = (a: RepFacts, b: RepFacts): RepFacts => ({
  reps: union(a.reps, b.reps),
  voids: union(a.voids, b.voids),
  tags: union(a.tags, b.tags),
});

/** Does a rep whose latest void is this one not count? */
export const isUndone = (latest: Void | undefined): boolean => latest !== undefined && !latest.restores;

/** The latest of each rep's voids, which says whether the rep counts. */
export function latestVoids(voids: Iterable<Void>, known = new Map<string, Void>()): Map<string, Void> {
  for (const one of voids) {
    const before = known.get(one.rep);
    if (!before || byTime(before, one) < 0) known.set(one.rep, one);
  }
  return known;
}

/** The reps that stand: not voided, each once, with the cause its latest tag says, in the order they happened. */
export function standing(facts: RepFacts): Rep[] {
  const voids = latestVoids(facts.voids);
  const latest = new Map<string, CauseTag>();
  for (const tag of facts.tags) {
    const known = latest.get(tag.rep);
    if (!known || byTime(known, tag) < 0) latest.set(tag.rep, tag);
  }
  return union(facts.reps)
    .filter(({ id }) => !isUndone(voids.get(id)))
    .sort(byTime)
    .map((rep) => {
      const tag = latest.get(rep.id);
      return tag ? { ...rep, cause: tag.cause } : rep;
    });
}
