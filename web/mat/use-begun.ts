import { type Begun, nothingBegun, type Pair, pairKey } from '@ulkret/core/session';
import { useState } from 'react';
import { z } from 'zod';

const Kept = z.record(
  z.string(),
  z.object({
    tapping: z.enum(['stop', 'forced', 'not judged']),
    soft: z.array(z.string()),
    failed: z.array(z.string()),
  }),
);
const keyOf = (session: string) => `ulkret-begun ${session}`;

function recalled(session: string): ReadonlyMap<string, Begun> {
  try {
    const kept = Kept.parse(JSON.parse(sessionStorage.getItem(keyOf(session)) ?? '{}'));
    return new Map(
      Object.entries(kept).map(([pair, { tapping, soft, failed }]) => [
        pair,
        { tapping, soft: new Set(soft), failed: new Set(failed) },
      ]),
    );
  } catch {
    return new Map();
  }
}

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
    const kept = [...next].map(([key, { tapping, soft, failed }]) => [
      key,
      { tapping, soft: [...soft], failed: [...failed] },
    ]);
    try {
      sessionStorage.setItem(keyOf(session), JSON.stringify(Object.fromEntries(kept)));
    } catch {
      // A full device keeps it until the page is left.
    }
  };
  return [begunOf, begin] as const;
}
