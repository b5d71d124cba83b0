import { byTime } from './order';
import type { Rep } from './rep';

/** The reps that go on from others, by the rep that they go on from; of two that say the same, the later one. */
export function followersOf(reps: Iterable<Rep>): ReadonlyMap<string, Rep> {
  const next = new Map<string, Rep>();
  for (const rep of [...reps].sort(byTime)) if (rep.follows) next.set(rep.follows.rep, rep);
  return next;
}

/** A rep and all that goes on from it, in order. */
export function sequenceFrom(rep: Rep, next: ReadonlyMap<string, Rep>): Rep[] {
  const chain = [rep];
  const seen = new Set([rep.id]);
  for (let one = next.get(rep.id); one && !seen.has(one.id); one = next.get(one.id)) {
    seen.add(one.id);
    chain.push(one);
  }
  return chain;
}

/** Reps in order of time as the steps that they are: those that go on from one of them stand with it. */
export function stepsOf(reps: readonly Rep[]): Rep[][] {
  const steps: Rep[][] = [];
  const stepOf = new Map<string, Rep[]>();
  for (const rep of reps) {
    const begun = rep.follows && stepOf.get(rep.follows.rep);
    const step = begun ?? [];
    if (!begun) steps.push(step);
    step.push(rep);
    stepOf.set(rep.id, step);
  }
  return steps;
}

/** The step that a rep belongs to, in order: from the rep that it began with to the last that goes on from it. */
export function stepWith(rep: Rep, reps: readonly Rep[]): readonly Rep[] {
  const known = new Map(reps.map((one) => [one.id, one]));
  const seen = new Set([rep.id]);
  let first = rep;
  for (;;) {
    const before = first.follows && known.get(first.follows.rep);
    if (!before || seen.has(before.id)) return sequenceFrom(first, followersOf(reps));
    seen.add(before.id);
    first = before;
  }
}
