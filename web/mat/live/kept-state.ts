import { matAtRest, type MatState } from '@ulkret/core/session';
import { z } from 'zod';

const set = z.array(z.string()).transform((list) => new Set(list));
const mapOf = <V extends z.ZodType>(value: V) =>
  z.array(z.tuple([z.string(), value])).transform((list) => new Map(list as [string, z.output<V>][]));

/** What outlives a reload, a tab that the browser lets go of, and a way out and back. */
const Kept = z.object({
  open: z.array(z.string()).nullable(),
  begun: mapOf(
    z.object({
      tapping: z.enum(['stop', 'forced', 'not judged']),
      soft: set,
      failed: set,
      met: mapOf(
        z.object({ answer: z.string().nullable(), worked: z.boolean(), became: z.string().exactOptional() }),
      ),
      measured: mapOf(z.number()),
      timed: mapOf(z.number()).default(new Map()),
      called: z.string().nullable(),
    }),
  ),
  read: set,
  goesOn: z.boolean(),
});

const key = 'ulkret-mat';
/** As many classes as somebody goes back and forth between. */
const mostClasses = 4;

function all(): [session: string, kept: unknown][] {
  const list = z
    .array(z.tuple([z.string(), z.unknown()]))
    .safeParse(JSON.parse(localStorage.getItem(key) ?? '[]'));
  return list.data ?? [];
}

/** The Mat of a class as this device left it. */
export function recalled(session: string): MatState {
  try {
    const kept = all().find(([id]) => id === session)?.[1];
    return kept === undefined ? matAtRest : { ...matAtRest, ...Kept.parse(kept) };
  } catch {
    return matAtRest;
  }
}

const asLists = (_: string, value: unknown): unknown =>
  value instanceof Set || value instanceof Map ? [...(value as Iterable<unknown>)] : value;

/** Keeps what has changed; a tap that begins nothing costs nothing. */
export function keepState(session: string, before: MatState, { open, begun, read, goesOn }: MatState): void {
  const same = open === before.open && begun === before.begun && read === before.read;
  if (same && goesOn === before.goesOn) return;
  try {
    const others = all().filter(([id]) => id !== session);
    const classes = [...others, [session, { open, begun, read, goesOn }]].slice(-mostClasses);
    localStorage.setItem(key, JSON.stringify(classes, asLists));
  } catch {
    // A full device keeps it until the page is left.
  }
}
