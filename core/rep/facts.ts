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
  earlier(a.at, b.at) || (a.id < b.id ? -1 : a.id > b.id ? 1 : 0);

/** Devices and the server write instants in one form (`toISOString`), in which the order of the letters is the order of time. */
const usual = (instant: string): boolean => instant.length === 24 && instant.endsWith('Z');

const earlier = (a: string, b: string): number =>
  a === b ? 0 : usual(a) && usual(b) ? (a < b ? -1 : 1) : Date.parse(a) - Date.parse(b);

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
    .sort(byTime)
    .map((rep) => {
      const tag = latest.get(rep.id);
      return tag ? { ...rep, cause: tag.cause } : rep;
    });
}
