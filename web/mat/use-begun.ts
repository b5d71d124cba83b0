import { type Begun, nothingBegun, type Pair, pairKey } from '@ulkret/core/session';
import { useState } from 'react';
import { z } from 'zod';

const set = z.array(z.string()).transform((list) => new Set(list));
const mapOf = <V extends z.ZodType>(value: V) =>
  z.array(z.tuple([z.string(), value])).transform((list) => new Map(list as [string, z.output<V>][]));

const Kept = z.record(
  z.string(),
  z.object({
    tapping: z.enum(['stop', 'forced', 'not judged']),
    soft: set,
    failed: set,
    met: mapOf(z.object({ answer: z.string().nullable(), worked: z.boolean() })),
    measured: mapOf(z.number()),
    called: z.string().nullable(),
  }),
);
const keyOf = (session: string) => `ulkret-begun ${session}`;

function recalled(session: string): ReadonlyMap<string, Begun> {
  try {
    return new Map(Object.entries(Kept.parse(JSON.parse(sessionStorage.getItem(keyOf(session)) ?? '{}'))));
  } catch {
    return new Map();
  }
}

const asLists = (_: string, value: unknown): unknown =>
  value instanceof Set || value instanceof Map ? [...(value as Iterable<unknown>)] : value;

/** What is begun on each pair and not logged yet: it is there again when the coach comes back to the pair, or reloads. */
export function useBegun(session: string) {
  const [all, setAll] = useState(() => recalled(session));
  const begunOf = (pair: Pair): Begun => all.get(pairKey(pair)) ?? nothingBegun;
  const begin = (pair: Pair, begun: Begun) => {
    // Most taps begin nothing and end nothing that was begun.
    if (begun === begunOf(pair)) return;
    const next = new Map(all);
    if (begun === nothingBegun) next.delete(pairKey(pair));
    else next.set(pairKey(pair), begun);
    setAll(next);
    try {
      sessionStorage.setItem(keyOf(session), JSON.stringify(Object.fromEntries(next), asLists));
    } catch {
      // A full device keeps it until the page is left.
    }
  };
  return [begunOf, begin] as const;
}
