import type { CauseTag, Facts, Rep } from './rep';

const union = <T extends { id: string }>(...lists: (readonly T[])[]): T[] => {
  const byId = new Map<string, T>();
  for (const list of lists) for (const fact of list) if (!byId.has(fact.id)) byId.set(fact.id, fact);
  return [...byId.values()];
};

export const noFacts: Facts = { reps: [], voids: [], tags: [] };

/** The union of two sets of facts: a fact known to both counts once. Order of the arguments does not matter to `standing`. */
export const mergeFacts = (a: Facts, b: Facts): Facts => ({
  reps: union(a.reps, b.reps),
  voids: union(a.voids, b.voids),
  tags: union(a.tags, b.tags),
});

/** Order of happening: by instant, and by id where two happened at the same one. */
export const byTime = (a: { at: string; id: string }, b: { at: string; id: string }): number =>
  Date.parse(a.at) - Date.parse(b.at) || (a.id < b.id ? -1 : a.id > b.id ? 1 : 0);

/** The reps that stand: not voided, each once, with the cause its latest tag says, in the order they happened. */
export function standing(facts: Facts): Rep[] {
  const voided = new Set(facts.voids.map(({ rep }) => rep));
  const latest = new Map<string, CauseTag>();
  for (const tag of facts.tags) {
    const known = latest.get(tag.rep);
    if (!known || byTime(known, tag) < 0) latest.set(tag.rep, tag);
  }
  return union(facts.reps)
    .filter(({ id }) => !voided.has(id))
    .map((rep) => ({ rep, time: Date.parse(rep.at), tag: latest.get(rep.id) }))
    .sort((a, b) => a.time - b.time || (a.rep.id < b.rep.id ? -1 : 1))
    .map(({ rep, tag }) => (tag ? { ...rep, cause: tag.cause } : rep));
}
