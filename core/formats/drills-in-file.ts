import { z } from 'zod';
import type { Id } from '../breakdown';
import { Drill, drillCalled } from '../drills';
import type { FileFault, TechniqueInFile } from './breakdown-json';

/** What a file would do to one drill of an academy; one that is there and says otherwise stays as it is. */
export const DrillItem = z.object({
  id: z.string(),
  title: z.string(),
  is: z.enum(['new', 'same', 'stays', 'refused']),
  reason: z.string(),
});
export type DrillItem = z.infer<typeof DrillItem>;

/** The drills that go along with breakdowns: those that their mistakes name, and those that are made for a part of them. */
export function drillsWith(techniques: readonly TechniqueInFile[], drills: readonly Drill[]): Drill[] {
  const ids = new Set<Id>(techniques.map(({ technique }) => technique.id));
  const named = new Set(
    techniques.flatMap(({ editions }) =>
      editions.flatMap(({ mistakes }) =>
        mistakes.flatMap((mistake) => mistake.drills.map((words) => drillCalled(drills, words)?.id)),
      ),
    ),
  );
  return drills.filter(({ id, trains: { checkpoints, mistakes, defences, ways } }) => {
    const parts = [...checkpoints, ...mistakes, ...defences, ...ways];
    return named.has(id) || parts.some(({ technique }) => ids.has(technique));
  });
}

/** Reads the drills of a file against those that are known: a bad one never costs another, none that is known is overwritten. */
export function readDrills(
  given: readonly unknown[],
  known: readonly Drill[],
  pathOf: (path: readonly PropertyKey[]) => string,
): { items: DrillItem[]; keep: Drill[] } {
  const read: { items: DrillItem[]; keep: Drill[] } = { items: [], keep: [] };
  const there = new Map(known.map((drill) => [drill.id, drill]));
  given.forEach((raw, i) => {
    const named = raw as { id?: unknown; title?: unknown } | null;
    const parsed = Drill.safeParse(raw);
    if (!parsed.success) {
      const faults = parsed.error.issues.map(({ path, message }): FileFault => ({
        path: pathOf(['drills', i, ...path]),
        reason: message,
      }));
      const [id, title] = [named?.id, named?.title].map((one) => (typeof one === 'string' ? one : ''));
      const reason = faults.map((fault) => `${fault.path}: ${fault.reason}`).join('; ');
      read.items.push({ id: id!, title: title || id || `drill ${i + 1}`, is: 'refused', reason });
      return;
    }
    const { id, title } = parsed.data;
    const old = there.get(id);
    const tell = (is: DrillItem['is'], reason = '') => read.items.push({ id, title, is, reason });
    if (!old) {
      tell('new');
      read.keep.push(parsed.data);
      there.set(id, parsed.data);
    } else if (JSON.stringify(Drill.parse(old)) === JSON.stringify(parsed.data)) tell('same');
    else tell('stays', 'There is one under this id that says otherwise: it stays as it is.');
  });
  return read;
}
